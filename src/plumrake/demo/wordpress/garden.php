<?php
/**
 * The garden's own kind of items.
 */

add_action(
	'init',
	static function () {
		register_post_type(
			'plant',
			array(
				'labels'       => array(
					'name'          => 'Plants',
					'singular_name' => 'Plant',
				),
				'public'       => true,
				'show_in_rest' => true,
				'has_archive'  => true,
				'supports'     => array( 'title', 'editor', 'excerpt', 'thumbnail', 'revisions', 'author' ),
				'rewrite'      => array( 'slug' => 'plants' ),
			)
		);
		register_block_pattern(
			'garden/plan-your-visit',
			array(
				'title'      => 'Plan your visit',
				'categories' => array( 'text' ),
				'content'    => '<!-- wp:group {"layout":{"type":"constrained"}} --><div class="wp-block-group"><!-- wp:paragraph --><p>Opening hours and tickets: <a href="/prices/">read more</a>.</p><!-- /wp:paragraph --></div><!-- /wp:group -->',
			)
		);
	}
);
