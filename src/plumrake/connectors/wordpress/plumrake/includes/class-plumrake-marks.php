<?php
/**
 * What was found on a page, shown to those who may edit it.
 *
 * @package Plumrake
 */

/**
 * The panel on the site itself. Visitors get nothing of it.
 */
final class Plumrake_Marks {

	/**
	 * Begins to offer it.
	 */
	public static function start() {
		add_action( 'admin_bar_menu', array( __CLASS__, 'offer' ), 90 );
		add_action( 'wp_enqueue_scripts', array( __CLASS__, 'panel' ) );
	}

	/**
	 * Tells whether whoever looks at the page may edit it.
	 *
	 * @return bool
	 */
	private static function may() {
		if ( is_admin() || ! is_user_logged_in() || ! Plumrake_Service::is_set_up() ) {
			return false;
		}
		return is_singular() ? current_user_can( 'edit_post', get_queried_object_id() ) : current_user_can( 'edit_others_posts' );
	}

	/**
	 * Offers the panel in the admin's bar.
	 *
	 * @param WP_Admin_Bar $bar The bar.
	 */
	public static function offer( $bar ) {
		if ( self::may() ) {
			$bar->add_node(
				array(
					'id'    => 'plumrake',
					'title' => esc_html__( 'Plum Rake: what was found here', 'plumrake' ),
					'href'  => esc_url( add_query_arg( 'plumrake-marks', '1' ) ),
				)
			);
		}
	}

	/**
	 * Brings the panel where it was asked for.
	 */
	public static function panel() {
		// phpcs:ignore WordPress.Security.NonceVerification -- only looked at.
		if ( ! isset( $_GET['plumrake-marks'] ) || ! self::may() ) {
			return;
		}
		$here  = wp_parse_url( remove_query_arg( 'plumrake-marks' ) );
		$path  = ( $here['path'] ?? '/' ) . ( isset( $here['query'] ) ? '?' . $here['query'] : '' );
		$given = array(
			'route'   => add_query_arg( 'path', rawurlencode( $path ), rest_url( Plumrake_Items::SPACE . '/found' ) ),
			'nonce'   => wp_create_nonce( 'wp_rest' ),
			'service' => untrailingslashit( Plumrake_Service::setting( 'service' ) ),
			'site'    => Plumrake_Service::setting( 'site' ),
			'edit'    => is_singular() ? get_edit_post_link( get_queried_object_id(), 'raw' ) : '',
			'words'   => array(
				'title'   => __( 'Plum Rake', 'plumrake' ),
				'asks'    => __( 'Asking what was found here …', 'plumrake' ),
				/* translators: %d: how many findings. */
				'found'   => __( '%d found on this page. Next, or the key n, leads to them.', 'plumrake' ),
				'nothing' => __( 'Nothing was found on this page when it was read last.', 'plumrake' ),
				'away'    => __( 'Plum Rake does not answer.', 'plumrake' ),
				/* translators: 1: which, 2: of how many. */
				'place'   => __( 'Place %1$d of %2$d', 'plumrake' ),
				'hidden'  => __( 'It is hidden; what is marked is the nearest thing around it that can be seen.', 'plumrake' ),
				'before'  => __( 'Before', 'plumrake' ),
				'next'    => __( 'Next', 'plumrake' ),
				'shut'    => __( 'Close', 'plumrake' ),
				'finding' => __( 'Open the finding', 'plumrake' ),
				'fix'     => __( 'Open its fix', 'plumrake' ),
				'edit'    => __( 'Open for editing', 'plumrake' ),
				'more'    => __( 'Read more', 'plumrake' ),
			),
		);
		wp_enqueue_script( 'plumrake-marks', plugins_url( 'marks.js', __DIR__ ), array(), PLUMRAKE_VERSION, true );
		wp_add_inline_script( 'plumrake-marks', 'window.plumrakeMarks = ' . wp_json_encode( $given ) . ';', 'before' );
	}
}
