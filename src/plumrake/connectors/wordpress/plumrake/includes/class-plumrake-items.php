<?php
/**
 * What the service asks of this site: its items, how they would go out, and corrections.
 *
 * @package Plumrake
 */

/**
 * The routes below /wp-json/plumrake/v1, for whoever may edit what others wrote.
 */
final class Plumrake_Items {

	const SPACE = 'plumrake/v1';

	/**
	 * Begins to answer.
	 */
	public static function start() {
		add_action( 'rest_api_init', array( __CLASS__, 'routes' ) );
		add_action( 'enqueue_block_editor_assets', array( __CLASS__, 'editor' ) );
	}

	/**
	 * Registers the routes.
	 */
	public static function routes() {
		$all  = static function () {
			return current_user_can( 'edit_others_posts' );
		};
		$editors  = static function () {
			return current_user_can( 'edit_posts' );
		};
		$this_one = static function ( $request ) {
			return current_user_can( 'edit_post', (int) $request['item'] );
		};
		foreach (
			array(
				array( 'GET', '/state', 'state', $all ),
				array( 'GET', '/items', 'items', $all ),
				array( 'GET', '/item', 'item', $all ),
				array( 'POST', '/preview', 'preview', array( __CLASS__, 'is_service' ) ),
				array( 'POST', '/write', 'write', array( __CLASS__, 'is_service' ) ),
				array( 'POST', '/ask', 'ask', $this_one ),
				array( 'GET', '/found', 'found', $editors ),
				array( 'GET', '/picture', 'picture', $all ),
				array( 'POST', '/picture', 'write_picture', array( __CLASS__, 'is_service' ) ),
			) as list( $method, $route, $name, $may )
		) {
			register_rest_route(
				self::SPACE,
				$route,
				array(
					'methods'             => $method,
					'callback'            => array( __CLASS__, $name ),
					'permission_callback' => $may,
				)
			);
		}
	}

	/**
	 * Tells whether it is the service that asks: what it writes goes past the gate, and what it has shown is shown as it is.
	 *
	 * @return bool
	 */
	public static function is_service() {
		$user = (string) Plumrake_Service::setting( 'user' );
		return '' !== $user && wp_get_current_user()->user_login === $user
			&& null !== rest_get_authenticated_app_password()
			&& current_user_can( 'edit_others_posts' ) && current_user_can( 'unfiltered_html' );
	}

	/**
	 * Says what there is, and gives a header's value by which blocks are marked in pages.
	 *
	 * @return array
	 */
	public static function state() {
		return array(
			'plugin'    => PLUMRAKE_VERSION,
			'wordpress' => get_bloginfo( 'version' ),
			'home'      => home_url( '/' ),
			'types'     => Plumrake_Gate::types(),
			'asks'      => Plumrake_Service::is_set_up(),
			'closed'    => (bool) Plumrake_Service::setting( 'closed' ),
			'unfiltered' => current_user_can( 'unfiltered_html' ),
			'writes'     => self::is_service(),
			'reading'   => Plumrake_Reading::token( 0, '', 6 * HOUR_IN_SECONDS ),
		);
	}

	/**
	 * Lists items, the last changed first.
	 *
	 * @param WP_REST_Request $request With status (several by commas), page, per_page, after (GMT).
	 * @return WP_REST_Response
	 */
	public static function items( $request ) {
		$asked = array(
			'post_type'              => Plumrake_Gate::types(),
			'post_status'            => array_intersect( explode( ',', (string) ( $request['status'] ?? 'draft,pending,future' ) ), array( 'draft', 'pending', 'future', 'publish' ) ),
			'posts_per_page'         => min( 500, max( 1, (int) ( $request['per_page'] ?? 100 ) ) ),
			'paged'                  => max( 1, (int) ( $request['page'] ?? 1 ) ),
			'orderby'                => array(
				'modified' => 'DESC',
				'ID'       => 'DESC',
			),
			'update_post_term_cache' => false !== strpos( (string) get_option( 'permalink_structure' ), '%category%' ),
			'suppress_filters'       => true, // phpcs:ignore WordPressVIPMinimum.Performance.WPQueryParams -- all of them are wanted.
		);
		if ( $request['after'] ) {
			$asked['date_query'] = array(
				array(
					'column' => 'post_modified_gmt',
					'after'  => (string) $request['after'],
				),
			);
		}
		$query = new WP_Query( $asked );
		cache_users( wp_list_pluck( $query->posts, 'post_author' ) );
		$answer = rest_ensure_response( array_map( array( __CLASS__, 'described' ), $query->posts ) );
		$answer->header( 'X-WP-Total', (string) $query->found_posts );
		return $answer;
	}

	/**
	 * Shows an item: what it is made from, its version, and where it can be read as it would go out.
	 *
	 * @param WP_REST_Request $request With item (its number) or path.
	 * @return array|WP_Error
	 */
	public static function item( $request ) {
		$id   = $request['item'] ? (int) $request['item'] : self::at_path( (string) $request['path'] );
		$post = $id ? get_post( $id ) : null;
		if ( ! $post || ! in_array( $post->post_type, Plumrake_Gate::types(), true ) || 'auto-draft' === $post->post_status ) {
			return new WP_Error( 'plumrake_no_item', __( 'WordPress has no item there that visitors would see.', 'plumrake' ), array( 'status' => 404 ) );
		}
		if ( 'trash' === $post->post_status ) {
			return new WP_Error( 'plumrake_trashed', __( 'The item lies in the trash.', 'plumrake' ), array( 'status' => 404 ) );
		}
		return self::described( $post ) + array(
			'raw'     => $post->post_content,
			'version' => self::version( $post ),
			'asks'    => Plumrake_Gate::version( $post ),
			'locked'  => self::locked_by( $post->ID ),
			'shown'   => Plumrake_Reading::address( $post ),
		);
	}

	/**
	 * Returns where an item can be read as it would be with another content.
	 *
	 * @param WP_REST_Request $request With item and raw.
	 * @return array
	 */
	public static function preview( $request ) {
		$raw = (string) $request['raw'];
		return array( 'shown' => Plumrake_Reading::address( get_post( (int) $request['item'] ), array( 'post_content' => $raw ) ) );
	}

	/**
	 * Writes an item's content, if it is still what was read and nobody edits it.
	 *
	 * @param WP_REST_Request $request With item, raw, version, why, by.
	 * @return array|WP_Error
	 */
	public static function write( $request ) {
		global $wpdb;
		require_once ABSPATH . 'wp-admin/includes/post.php';
		$id = (int) $request['item'];
		// phpcs:disable WordPress.DB.DirectDatabaseQuery -- the row is held while it is compared and written.
		$wpdb->query( 'START TRANSACTION' );
		$now = $wpdb->get_row( $wpdb->prepare( "SELECT post_content, post_title, post_status FROM {$wpdb->posts} WHERE ID = %d FOR UPDATE", $id ) );
		$locked = self::locked_by( $id );
		$error = null;
		if ( ! $now || in_array( $now->post_status, array( 'trash', 'auto-draft' ), true ) ) {
			$error = new WP_Error( 'plumrake_gone', __( 'The item was deleted, or lies in the trash.', 'plumrake' ), array( 'status' => 404 ) );
		} elseif ( self::version( $now ) !== $request['version'] ) {
			/* translators: %s: who changed the item last. */
			$error = new WP_Error( 'plumrake_changed', sprintf( __( 'The item was changed meanwhile, last by %s.', 'plumrake' ), self::last_changed_by( $id ) ), array( 'status' => 409 ) );
		} elseif ( $locked ) {
			/* translators: %s: who has the item open. */
			$error = new WP_Error( 'plumrake_locked', sprintf( __( '%s has the item open in the editor; a mend would be lost when it is saved there.', 'plumrake' ), $locked ), array( 'status' => 423 ) );
		}
		if ( null === $error ) {
			clean_post_cache( $id );
			Plumrake_Gate::$is_writing = true;
			$done = wp_update_post(
				array(
					'ID'           => $id,
					'post_content' => wp_slash( (string) $request['raw'] ),
				),
				true
			);
			Plumrake_Gate::$is_writing = false;
			$error = is_wp_error( $done ) ? $done : null;
			if ( null === $error && get_post( $id )->post_content !== $request['raw'] ) {
				$error = new WP_Error( 'plumrake_filtered', __( 'WordPress would store another text than the correction: whoever the connection signs in as may not write all HTML.', 'plumrake' ), array( 'status' => 403 ) );
			}
		}
		$wpdb->query( null === $error ? 'COMMIT' : 'ROLLBACK' );
		// phpcs:enable
		clean_post_cache( $id );
		return null === $error ? array( 'version' => self::version( get_post( $id ) ) ) : $error;
	}

	/**
	 * Asks the gate for whoever edits an item, before anything is pressed.
	 *
	 * @param WP_REST_Request $request With item, title, content, excerpt as they are in the editor.
	 * @return array
	 */
	public static function ask( $request ) {
		$post   = get_post( (int) $request['item'] );
		$fields = array();
		foreach ( Plumrake_Gate::FIELDS as $field ) {
			$given = $request[ substr( $field, 5 ) ];
			if ( is_string( $given ) ) {
				$fields[ $field ] = wp_unslash( sanitize_post_field( $field, wp_slash( $given ), $post->ID, 'db' ) );
			}
		}
		return Plumrake_Gate::ask( $post, $fields );
	}

	/**
	 * Says what the media library knows of a picture, by the address of any of its sizes.
	 *
	 * @param WP_REST_Request $request With src.
	 * @return array
	 */
	public static function picture( $request ) {
		$src = strtok( (string) $request['src'], '?#' );
		$id  = attachment_url_to_postid( $src );
		if ( ! $id ) {
			$id = attachment_url_to_postid( preg_replace( '/-\d+x\d+(\.[a-z]+)$/i', '$1', $src ) );
		}
		return array(
			'number' => $id ? (string) $id : '',
			'text'   => $id ? (string) get_post_meta( $id, '_wp_attachment_image_alt', true ) : '',
			'edit'   => $id ? admin_url( 'post.php?post=' . $id . '&action=edit' ) : '',
		);
	}

	/**
	 * Gives a picture of the media library another text, if it still has the one that is named.
	 *
	 * @param WP_REST_Request $request With number, text and was.
	 * @return array|WP_Error
	 */
	public static function write_picture( $request ) {
		$id   = (int) $request['number'];
		$text = (string) $request['text'];
		if ( ! wp_attachment_is_image( $id ) ) {
			return new WP_Error( 'plumrake_gone', __( 'The media library has no such picture.', 'plumrake' ), array( 'status' => 404 ) );
		}
		if ( ! current_user_can( 'edit_post', $id ) ) {
			return new WP_Error( 'rest_forbidden', '', array( 'status' => 403 ) );
		}
		if ( get_post_meta( $id, '_wp_attachment_image_alt', true ) !== (string) $request['was'] ) {
			return new WP_Error( 'plumrake_changed', __( 'The text in the media library was changed meanwhile.', 'plumrake' ), array( 'status' => 409 ) );
		}
		if ( sanitize_text_field( $text ) !== $text ) {
			return new WP_Error( 'plumrake_filtered', __( 'WordPress would store another text: leave out tags, line breaks and double spaces.', 'plumrake' ), array( 'status' => 403 ) );
		}
		update_post_meta( $id, '_wp_attachment_image_alt', wp_slash( $text ) );
		return array( 'text' => $text );
	}

	/**
	 * Says what was found on a page when it was read last.
	 *
	 * @param WP_REST_Request $request With path.
	 * @return array|WP_Error
	 */
	public static function found( $request ) {
		$asked = add_query_arg( 'path', rawurlencode( (string) $request['path'] ), Plumrake_Service::of_site( 'found' ) );

		list( $status, $data ) = Plumrake_Service::call( 'GET', $asked );
		if ( 200 === $status ) {
			return $data;
		}
		return new WP_Error( 'plumrake_away', $data['detail'] ?? __( 'Plum Rake does not answer.', 'plumrake' ), array( 'status' => $status ? $status : 503 ) );
	}

	/**
	 * Gives the block editor its panel.
	 */
	public static function editor() {
		$screen = get_current_screen();
		if ( ! $screen || ! in_array( $screen->post_type, Plumrake_Gate::types(), true ) || ! Plumrake_Service::is_set_up() ) {
			return;
		}
		$needs = array( 'wp-plugins', 'wp-edit-post', 'wp-element', 'wp-components', 'wp-data', 'wp-api-fetch', 'wp-i18n', 'wp-notices' );
		wp_enqueue_script( 'plumrake', plugins_url( 'editor.js', __DIR__ ), $needs, PLUMRAKE_VERSION, true );
		wp_set_script_translations( 'plumrake', 'plumrake' );
	}

	/**
	 * Returns what an item is, as the service keeps it.
	 *
	 * @param WP_Post $post The item.
	 * @return array
	 */
	public static function described( $post ) {
		$author = get_userdata( (int) $post->post_author );
		return array(
			'item'    => (string) $post->ID,
			'type'    => $post->post_type,
			'kind'    => get_post_type_object( $post->post_type )->labels->singular_name,
			'status'  => $post->post_status,
			'path'    => self::path( $post ),
			'title'   => html_entity_decode( get_the_title( $post ), ENT_QUOTES, 'UTF-8' ),
			'author'  => $author ? $author->display_name : '',
			'email'   => $author ? $author->user_email : '',
			'changed' => self::changed( $post ),
			'due'     => 'future' === $post->post_status ? self::time( $post->post_date_gmt, $post->post_date ) : null,
			'edit'    => admin_url( 'post.php?post=' . $post->ID . '&action=edit' ),
		);
	}

	/**
	 * Returns when an item was changed; one that is scheduled bears the date that it is due.
	 *
	 * @param WP_Post $post The item.
	 * @return string
	 */
	private static function changed( $post ) {
		if ( 'future' === $post->post_status && $post->post_modified_gmt > gmdate( 'Y-m-d H:i:s' ) ) {
			$last = wp_get_latest_revision_id_and_total_count( $post );
			$last = is_wp_error( $last ) || ! $last['latest_id'] ? null : get_post( $last['latest_id'] );
			return $last ? self::time( $last->post_modified_gmt, $last->post_modified ) : gmdate( 'Y-m-d\TH:i:s\Z' );
		}
		return self::time( $post->post_modified_gmt, $post->post_modified );
	}

	/**
	 * Returns the path that an item has, or will have once it is public.
	 *
	 * @param WP_Post     $post  The item.
	 * @param string|null $title The title that it is to have.
	 * @return string
	 */
	public static function path( $post, $title = null ) {
		if ( 'publish' !== $post->post_status ) {
			$post              = clone $post;
			$post->post_status = 'publish';
			$post->post_name   = $post->post_name ? $post->post_name : sanitize_title( $title ?? $post->post_title, (string) $post->ID );
			$post->filter      = 'sample';
		}
		$parts = wp_parse_url( get_permalink( $post ) );
		return ( $parts['path'] ?? '/' ) . ( isset( $parts['query'] ) ? '?' . $parts['query'] : '' );
	}

	/**
	 * Returns what an item's content is known by.
	 *
	 * @param object $post The item.
	 * @return string
	 */
	private static function version( $post ) {
		return hash( 'sha256', $post->post_content );
	}

	/**
	 * Returns which item stands at a path.
	 *
	 * @param string $path The path.
	 * @return int
	 */
	private static function at_path( $path ) {
		if ( '/' === $path && 'page' === get_option( 'show_on_front' ) ) {
			return (int) get_option( 'page_on_front' );
		}
		$id = url_to_postid( home_url( $path ) );
		if ( $id ) {
			return $id;
		}
		foreach ( get_posts(
			array(
				'post_type'   => Plumrake_Gate::types(),
				'post_status' => array( 'draft', 'pending', 'future' ),
				'numberposts' => 500,
			)
		) as $post ) {
			if ( self::path( $post ) === $path ) {
				return $post->ID;
			}
		}
		return 0;
	}

	/**
	 * Returns who has an item open in the editor, or an empty text.
	 *
	 * @param int $id The item.
	 * @return string
	 */
	private static function locked_by( $id ) {
		require_once ABSPATH . 'wp-admin/includes/post.php';
		$user = wp_check_post_lock( $id );
		return $user ? get_userdata( $user )->display_name : '';
	}

	/**
	 * Returns who saved an item last.
	 *
	 * @param int $id The item.
	 * @return string
	 */
	private static function last_changed_by( $id ) {
		$last = get_userdata( (int) get_post_meta( $id, '_edit_last', true ) );
		return $last ? $last->display_name : __( 'somebody', 'plumrake' );
	}

	/**
	 * Returns a time as RFC 3339 has it.
	 *
	 * @param string $gmt   The time in GMT; drafts may have none.
	 * @param string $local The same in the site's own.
	 * @return string
	 */
	private static function time( $gmt, $local ) {
		return mysql2date( 'Y-m-d\TH:i:s\Z', 0 === strpos( $gmt, '0000' ) ? get_gmt_from_date( $local ) : $gmt, false );
	}
}
