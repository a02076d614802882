<?php
/**
 * Fills a new WordPress with a made-up site. Given as JSON: authors, pictures, items; printed as JSON: what it made.
 */

$_SERVER['HTTP_HOST'] = '127.0.0.1';
require $argv[1];
require_once ABSPATH . 'wp-admin/includes/image.php';
require_once ABSPATH . 'wp-admin/includes/plugin.php';

$given = json_decode( stream_get_contents( STDIN ), true );
$upload = wp_upload_dir();
$made   = array(
	'users' => array(),
	'items' => array(),
);
$wp_rewrite->set_permalink_structure( '/%postname%/' );
update_option( 'blogdescription', 'Trees, ponds and glass' );
update_option( 'timezone_string', 'Europe/London' );
update_option( 'comment_moderation', 1 );
update_option( 'blog_public', 1 );
foreach ( get_posts( array( 'post_type' => array( 'post', 'page' ), 'post_status' => 'any', 'numberposts' => -1 ) ) as $old ) {
	wp_delete_post( $old->ID, true );
}
foreach ( $given['authors'] as $name => $one ) {
	$made['users'][ $name ] = wp_insert_user(
		array(
			'user_login'   => $name,
			'user_pass'    => $given['password'],
			'user_email'   => $name . '@tarnvale.example',
			'display_name' => $one[0],
			'role'         => $one[1],
		)
	);
}
$rake = wp_insert_user(
	array(
		'user_login'   => 'plumrake',
		'user_pass'    => wp_generate_password( 40 ),
		'user_email'   => 'plumrake@tarnvale.example',
		'display_name' => 'Plum Rake',
		'role'         => 'editor',
	)
);
$made['password'] = WP_Application_Passwords::create_new_application_password( $rake, array( 'name' => 'Plum Rake' ) )[0];
$pictures         = array();
foreach ( $given['pictures'] as $name => $one ) {
	$file = $upload['basedir'] . '/' . $name . '.jpg';
	copy( $one[0], $file );
	$id = wp_insert_attachment( array( 'post_mime_type' => 'image/jpeg', 'post_title' => $name, 'post_name' => 'picture-' . $name ), $file );
	wp_update_attachment_metadata( $id, wp_generate_attachment_metadata( $id, $file ) );
	update_post_meta( $id, '_wp_attachment_image_alt', $one[1] );
	$pictures[ $name ] = $id;
}
kses_remove_filters();
foreach ( $given['items'] as $number => $one ) {
	$content = preg_replace_callback(
		'/\[(number|address) ([a-z]+)\]/',
		static function ( $match ) use ( $pictures ) {
			$id = $pictures[ $match[2] ];
			return 'number' === $match[1] ? (string) $id : wp_get_attachment_url( $id );
		},
		$one['content']
	);
	$at = 'future' === $one['status'] ? $given['due'] : gmdate( 'Y-m-d H:i:s', strtotime( $given['from'] ) + $number * DAY_IN_SECONDS );
	$id = wp_insert_post(
		wp_slash(
			array(
				'post_type'     => $one['type'],
				'post_status'   => $one['status'],
				'post_name'     => $one['slug'],
				'post_title'    => $one['title'],
				'post_author'   => $made['users'][ $one['author'] ],
				'post_content'  => $content,
				'post_date'     => $at,
				'post_date_gmt' => $at,
			)
		),
		true
	);
	if ( is_wp_error( $id ) ) {
		fwrite( STDERR, $one['slug'] . ': ' . $id->get_error_message() );
		exit( 1 );
	}
	if ( $one['featured'] ) {
		set_post_thumbnail( $id, $pictures[ $one['featured'] ] );
	}
	$made['items'][ $one['slug'] ] = $id;
}
update_option( 'show_on_front', 'page' );
update_option( 'page_on_front', $made['items']['welcome'] ?? 0 );
update_option( 'page_for_posts', $made['items']['diary'] ?? 0 );
activate_plugin( 'plumrake/plumrake.php' );
if ( $given['plugin'] ) {
	update_option( 'plumrake', $given['plugin'] );
}
flush_rewrite_rules();
echo wp_json_encode( $made );
