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
	}
);
