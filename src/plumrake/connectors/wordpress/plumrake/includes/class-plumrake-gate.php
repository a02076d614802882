<?php
/**
 * The gate: nothing becomes public before it was asked.
 *
 * @package Plumrake
 */

/**
 * Asks before an item is published, whichever way, and keeps what is held from going out. What was
 * to be published is never lost: it stays in the editor, as a draft, or as the item's autosave.
 */
final class Plumrake_Gate {

	const FIELDS = array( 'post_title', 'post_content', 'post_excerpt' );

	/**
	 * Whether a correction of the service is being written, which it answers for itself.
	 *
	 * @var bool
	 */
	public static $is_writing = false;

	/**
	 * What was answered in this request, by version.
	 *
	 * @var array[]
	 */
	private static $known = array();

	/**
	 * Featured pictures that are about to be set, by item.
	 *
	 * @var int[]
	 */
	private static $thumbnails = array();

	/**
	 * Items that are to be published as soon as they are stored.
	 *
	 * @var array[]
	 */
	private static $new_items = array();

	/**
	 * Begins to watch.
	 */
	public static function start() {
		add_action( 'init', array( __CLASS__, 'watch_rest' ), 999 );
		add_filter( 'wp_insert_post_data', array( __CLASS__, 'before_storing' ), 999, 4 );
		add_action( 'wp_insert_post', array( __CLASS__, 'after_storing' ), 999, 2 );
		add_action( 'transition_post_status', array( __CLASS__, 'after_change' ), 1, 3 );
		remove_action( 'publish_future_post', 'check_and_publish_future_post' );
		add_action( 'publish_future_post', array( __CLASS__, 'when_due' ) );
		add_action( 'post_updated', array( __CLASS__, 'tell_changed' ), 10, 1 );
		add_action( 'admin_notices', array( __CLASS__, 'show_notices' ) );
	}

	/**
	 * Watches every public type of item in the REST interface.
	 */
	public static function watch_rest() {
		foreach ( self::types() as $type ) {
			add_filter( "rest_pre_insert_$type", array( __CLASS__, 'before_rest' ), 999, 2 );
		}
	}

	/**
	 * Returns the types of items that visitors may see.
	 *
	 * @return string[]
	 */
	public static function types() {
		return array_values( array_diff( get_post_types( array( 'public' => true ) ), array( 'attachment' ) ) );
	}

	/**
	 * Refuses what comes by REST, as the block editor sends it, unless it may go out.
	 *
	 * @param stdClass|WP_Error $prepared The item as it is to be.
	 * @param WP_REST_Request   $request  The request.
	 * @return stdClass|WP_Error
	 */
	public static function before_rest( $prepared, $request ) {
		if ( is_wp_error( $prepared ) || empty( $prepared->ID ) ) {
			return $prepared; // A new item is stored first: there is nothing yet that could be shown.
		}
		$before = get_post( $prepared->ID );
		if ( null !== $request['featured_media'] ) {
			self::$thumbnails[ $before->ID ] = (int) $request['featured_media'];
		}
		$fields = array();
		foreach ( self::FIELDS as $field ) {
			if ( isset( $prepared->$field ) ) {
				$fields[ $field ] = wp_unslash( sanitize_post_field( $field, wp_slash( $prepared->$field ), $before->ID, 'db' ) );
			}
		}
		$status = $prepared->post_status ?? $before->post_status;
		if ( ! self::is_publication( $before, $fields, $status ) ) {
			return $prepared;
		}
		$verdict = self::ask( $before, $fields );
		return $verdict['may'] ? $prepared : new WP_Error(
			'plumrake_' . $verdict['state'],
			$verdict['says'],
			array(
				'status'   => $verdict['status'],
				'plumrake' => $verdict,
			)
		);
	}

	/**
	 * Keeps what is held from being stored as public, whoever stores it.
	 *
	 * @param array $data    The item as it is to be, slashed.
	 * @param array $given   What was given, slashed.
	 * @param array $raw     What was given, as it was.
	 * @param bool  $updates Whether the item is there already.
	 * @return array
	 */
	public static function before_storing( $data, $given, $raw, $updates = false ) {
		if ( ! in_array( $data['post_type'], self::types(), true ) || ! self::goes_out( $data['post_status'] ) ) {
			return $data;
		}
		$before = $updates && ! empty( $given['ID'] ) ? get_post( $given['ID'] ) : null;
		if ( null === $before ) {
			if ( self::$is_writing ) {
				return $data;
			}
			self::$new_items[] = array( $data['post_title'], $data['post_status'] );
			return array_merge( $data, array( 'post_status' => 'draft' ) );
		}
		$fields = wp_unslash( array_intersect_key( $data, array_flip( self::FIELDS ) ) );
		if ( ! self::is_publication( $before, $fields, $data['post_status'] ) ) {
			return $data;
		}
		$verdict = self::ask( $before, $fields );
		if ( $verdict['may'] ) {
			return $data;
		}
		if ( wp_doing_ajax() && isset( $_POST['action'] ) && 'inline-save' === $_POST['action'] ) { // phpcs:ignore WordPress.Security.NonceVerification -- only looked at.
			wp_die( esc_html( $verdict['says'] ) );
		}
		self::note( $before, $verdict );
		if ( 'publish' !== $before->post_status ) {
			return array_merge( $data, array( 'post_status' => self::resting( $before->post_status ) ) );
		}
		if ( function_exists( '_wp_put_post_revision' ) ) {
			_wp_put_post_revision( array_merge( $before->to_array(), $fields ), true );
		}
		return array_merge( $data, wp_slash( $before->to_array() ), array( 'post_status' => 'publish' ) );
	}

	/**
	 * Asks for a new item once it is stored, and publishes it if it may go out.
	 *
	 * @param int     $id   The item.
	 * @param WP_Post $post The item as it is stored.
	 */
	public static function after_storing( $id, $post ) {
		if ( ! self::$new_items || 'draft' !== $post->post_status || end( self::$new_items )[0] !== wp_slash( $post->post_title ) ) {
			return;
		}
		list( , $status ) = array_pop( self::$new_items );
		$verdict          = self::ask( $post, array() );
		if ( $verdict['may'] ) {
			wp_update_post(
				array(
					'ID'          => $id,
					'post_status' => $status,
					'edit_date'   => 'future' === $status,
				)
			);
			return;
		}
		self::note( $post, $verdict );
	}

	/**
	 * Asks when a scheduled item is due, and publishes it if it may go out.
	 *
	 * @param int|WP_Post $id The item.
	 */
	public static function when_due( $id ) {
		$post = get_post( $id );
		if ( ! $post || 'future' !== $post->post_status ) {
			return;
		}
		if ( ! in_array( $post->post_type, self::types(), true ) || strtotime( $post->post_date_gmt . ' GMT' ) > time() ) {
			check_and_publish_future_post( $post );
			return;
		}
		$verdict = self::ask( $post, array() );
		if ( $verdict['may'] ) {
			check_and_publish_future_post( $post );
		} elseif ( 'held' === $verdict['state'] ) {
			self::note( $post, $verdict );
			wp_update_post(
				array(
					'ID'          => $post->ID,
					'post_status' => 'pending',
				)
			);
		} else {
			wp_schedule_single_event( time() + 5 * MINUTE_IN_SECONDS, 'publish_future_post', array( $post->ID ) );
		}
	}

	/**
	 * Takes back what became public by a way that asks nobody, and tells of what was published.
	 *
	 * @param string  $now    The status now.
	 * @param string  $before The status before.
	 * @param WP_Post $post   The item.
	 */
	public static function after_change( $now, $before, $post ) {
		if ( 'publish' !== $now || ! in_array( $post->post_type, self::types(), true ) || ! Plumrake_Service::is_set_up() ) {
			return;
		}
		$use = null;
		if ( 'publish' !== $before && ! self::$is_writing ) {
			$verdict = self::ask( $post, array() );
			$use     = $verdict['use'];
			if ( ! $verdict['may'] ) {
				global $wpdb;
				$wpdb->update( $wpdb->posts, array( 'post_status' => self::resting( $before ) ), array( 'ID' => $post->ID ) ); // phpcs:ignore WordPress.DB.DirectDatabaseQuery -- any other way would ask again.
				clean_post_cache( $post->ID );
				self::note( $post, $verdict );
				return;
			}
		}
		$id = $post->ID;
		add_action(
			'shutdown',
			static function () use ( $id, $use ) {
				if ( 'publish' === get_post_status( $id ) ) {
					if ( $use ) {
						list( $number, $path, $hash, $seal ) = $use;
						$shown = array(
							'path'         => $path,
							'content_hash' => $hash,
							'seal'         => $seal,
						);
						Plumrake_Service::call( 'POST', 'clearances/' . (int) $number . '/use', $shown, 0 );
					}
					Plumrake_Service::call( 'POST', Plumrake_Service::of_site( 'published' ), array( 'path' => Plumrake_Items::path( get_post( $id ) ) ), 0 );
				}
			}
		);
	}

	/**
	 * Lets the service know that an item was changed, so that it is read before somebody waits.
	 *
	 * @param int $id The item.
	 */
	public static function tell_changed( $id ) {
		$post = get_post( $id );
		if ( ! Plumrake_Service::is_set_up() || ! in_array( $post->post_type, self::types(), true ) || wp_is_post_autosave( $id ) ) {
			return;
		}
		if ( in_array( $post->post_status, array( 'draft', 'pending', 'future' ), true ) ) {
			Plumrake_Service::call( 'POST', Plumrake_Service::of_site( 'items/changed' ), array( 'item' => (string) $id ), 0 );
		}
	}

	/**
	 * Asks the gate about an item as it is proposed.
	 *
	 * @param WP_Post $post   The item as it is stored.
	 * @param array   $fields What is to be other.
	 * @return array{may: bool, state: string, status: int, says: string, findings: array, address: string}
	 */
	public static function ask( $post, $fields ) {
		if ( isset( self::$thumbnails[ $post->ID ] ) ) {
			$fields['thumbnail'] = self::$thumbnails[ $post->ID ];
		}
		$version = self::version( $post, $fields );
		if ( isset( self::$known[ $version ] ) ) {
			return self::$known[ $version ];
		}
		$verdict = Plumrake_Service::is_set_up() ? self::answer( $post, $fields, $version ) : self::verdict( 'away', __( 'Plum Rake is not set up yet', 'plumrake' ) );
		if ( 'waiting' !== $verdict['state'] ) {
			self::$known[ $version ] = $verdict;
		}
		return $verdict;
	}

	/**
	 * Returns what an item as it is proposed is known by.
	 *
	 * @param WP_Post $post   The item as it is stored.
	 * @param array   $fields What is to be other.
	 * @return string
	 */
	public static function version( $post, $fields = array() ) {
		$whole = array( (int) $post->ID, (int) ( $fields['thumbnail'] ?? get_post_thumbnail_id( $post ) ) );
		foreach ( self::FIELDS as $field ) {
			$whole[] = $fields[ $field ] ?? $post->$field;
		}
		return hash( 'sha256', wp_json_encode( $whole ) );
	}

	/**
	 * Puts the question to the service.
	 *
	 * @param WP_Post $post    The item.
	 * @param array   $fields  What is to be other.
	 * @param string  $version What the proposal is known by.
	 * @return array
	 */
	private static function answer( $post, $fields, $version ) {
		$wait   = (float) Plumrake_Service::setting( 'wait' );
		$person = get_userdata( get_current_user_id() ? get_current_user_id() : (int) $post->post_author );
		$body   = array(
			'path'      => Plumrake_Items::path( $post, $fields['post_title'] ?? null ),
			'address'   => Plumrake_Reading::address( $post, $fields ),
			'lens'      => Plumrake_Service::setting( 'lens' ),
			'wait'      => $wait,
			'version'   => $version,
			'item'      => (string) $post->ID,
			'asked_for' => $person ? array(
				'name'  => $person->display_name,
				'email' => $person->user_email,
			) : null,
		);
		list( $status, $data ) = Plumrake_Service::call( 'POST', Plumrake_Service::of_site( 'gate' ), $body, $wait + 5 );
		if ( 202 === $status ) {
			return self::verdict( 'waiting', __( 'the page is still being read; press again in a moment', 'plumrake' ) );
		}
		if ( 201 !== $status ) {
			return self::verdict( 'away', $data['detail'] ?? __( 'Plum Rake does not answer', 'plumrake' ) );
		}
		if ( ! empty( $data['seal'] ) ) {
			return self::verdict( 'clear', $data['reason'], $data );
		}
		return self::verdict( 'held', $data['reason'], $data );
	}

	/**
	 * Returns what an answer means here.
	 *
	 * @param string $state  What was answered: clear, held, waiting, away.
	 * @param string $reason Why, as a sentence.
	 * @param array  $data   The clearance.
	 * @return array
	 */
	private static function verdict( $state, $reason, $data = array() ) {
		$findings = array();
		foreach ( $data['judged'] ?? array() as $one ) {
			if ( 'holds' === $one['standing'] ) {
				$findings[] = array(
					'says'  => $one['says'],
					'where' => $one['where'] ?? '',
					'block' => $one['block'] ?? '',
					'do'    => $one['in_editor'] ?? '',
					'own'   => $one['own_help']['says'] ?? '',
					'link'  => $one['own_help']['link'] ?? '',
				);
			}
		}
		/* translators: %s: why, as a sentence. */
		$frames = array(
			'clear'   => '%s',
			/* translators: %s: why, as a sentence. */
			'held'    => __( 'Held by Plum Rake. %s', 'plumrake' ),
			/* translators: %s: why, as part of a sentence. */
			'waiting' => __( 'Not published yet: %s.', 'plumrake' ),
			/* translators: %s: why, as part of a sentence. */
			'away'    => __( 'Not published: nobody could look at the page before (%s).', 'plumrake' ),
		);
		$says = sprintf( $frames[ $state ], $reason );
		foreach ( array_slice( $findings, 0, 3 ) as $one ) {
			$says .= ' ' . ( $one['where'] ? $one['where'] . ': ' : '' ) . $one['says'];
		}
		$statuses = array(
			'clear'   => 200,
			'held'    => 422,
			'waiting' => 409,
			'away'    => 503,
		);
		return array(
			'may'      => 'clear' === $state || ( 'away' === $state && ! Plumrake_Service::setting( 'closed' ) ),
			'state'    => $state,
			'status'   => $statuses[ $state ],
			'says'     => $says,
			'findings' => $findings,
			'use'      => empty( $data['seal'] ) ? null : array( $data['id'], $data['path'], $data['content_hash'], $data['seal'] ),
			'address'  => empty( $data['id'] ) ? '' : untrailingslashit( Plumrake_Service::setting( 'service' ) ) . '/sites/' . rawurlencode( Plumrake_Service::setting( 'site' ) ) . '/clearances/' . (int) $data['id'],
		);
	}

	/**
	 * Tells whether storing an item so would let visitors see something that they could not before.
	 *
	 * @param WP_Post $before The item as it is stored.
	 * @param array   $fields What is to be other.
	 * @param string  $status The status that it is to have.
	 * @return bool
	 */
	private static function is_publication( $before, $fields, $status ) {
		if ( self::$is_writing || ! self::goes_out( $status ) ) {
			return false;
		}
		if ( ! self::goes_out( $before->post_status ) || ( 'future' === $before->post_status && 'publish' === $status ) ) {
			return true;
		}
		foreach ( $fields as $field => $value ) {
			if ( $value !== $before->$field ) {
				return true;
			}
		}
		return isset( self::$thumbnails[ $before->ID ] ) && get_post_thumbnail_id( $before ) !== self::$thumbnails[ $before->ID ];
	}

	/**
	 * Tells whether items of a status are public, or will be without anybody pressing anything.
	 *
	 * @param string $status The status.
	 * @return bool
	 */
	private static function goes_out( $status ) {
		return in_array( $status, array( 'publish', 'future' ), true );
	}

	/**
	 * Returns the status of an item that was not let out.
	 *
	 * @param string $status The status that it had.
	 * @return string
	 */
	private static function resting( $status ) {
		return in_array( $status, array( 'draft', 'pending', 'private' ), true ) ? $status : ( 'future' === $status ? 'pending' : 'draft' );
	}

	/**
	 * Keeps what is to be told to whoever acts, or to the author where nobody does.
	 *
	 * @param WP_Post $post    The item.
	 * @param array   $verdict What was answered.
	 */
	private static function note( $post, $verdict ) {
		$user    = get_current_user_id() ? get_current_user_id() : (int) $post->post_author;
		$notices = (array) get_user_meta( $user, 'plumrake_notices', true );
		$notices = array_slice( array_filter( $notices ), -19 );

		$notices[] = array( $post->ID, $verdict['says'], $verdict['address'] );
		update_user_meta( $user, 'plumrake_notices', wp_slash( $notices ) );
	}

	/**
	 * Shows what was held since the last screen.
	 */
	public static function show_notices() {
		$notices = array_filter( (array) get_user_meta( get_current_user_id(), 'plumrake_notices', true ) );
		if ( ! $notices ) {
			return;
		}
		delete_user_meta( get_current_user_id(), 'plumrake_notices' );
		foreach ( $notices as list( $id, $says, $address ) ) {
			printf(
				'<div class="notice notice-error"><p><strong>%s</strong> %s %s</p></div>',
				esc_html( get_the_title( $id ) ),
				esc_html( $says ),
				$address ? '<a href="' . esc_url( $address ) . '">' . esc_html__( 'See all that was found', 'plumrake' ) . '</a>' : ''
			);
		}
	}
}
