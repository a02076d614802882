<?php
/**
 * Pages as they would go out, for the service alone.
 *
 * @package Plumrake
 */

/**
 * Signed addresses show one item, as it is or as it is proposed, to whoever holds them, without a
 * sign-in and for a while. What is shown so says in comments which block makes which part.
 */
final class Plumrake_Reading {

	const HEADER = 'HTTP_X_PLUMRAKE_READING';

	/**
	 * What the request's signature allows: the item (0: none in particular), the proposal.
	 *
	 * @var array|null
	 */
	private static $claims = null;

	/**
	 * What is proposed of the item, by field.
	 *
	 * @var array
	 */
	private static $proposal = array();

	/**
	 * Looks whether the request is signed.
	 */
	public static function start() {
		// phpcs:ignore WordPress.Security.NonceVerification -- the signature is what is verified.
		$token = isset( $_GET['plumrake'] ) ? $_GET['plumrake'] : ( $_SERVER[ self::HEADER ] ?? '' );
		$claims = is_string( $token ) && '' !== $token ? self::opened( $token ) : null;
		if ( null === $claims ) {
			return;
		}
		self::$claims = $claims;
		add_filter( 'determine_current_user', '__return_zero', PHP_INT_MAX );
		add_filter( 'show_admin_bar', '__return_false' );
		add_filter( 'the_content', array( __CLASS__, 'with_paths' ), 1 );
		add_filter( 'the_content', array( __CLASS__, 'within_content' ), PHP_INT_MAX );
		add_filter( 'render_block', array( __CLASS__, 'within_block' ), PHP_INT_MAX, 2 );
		add_action( 'wp_footer', array( __CLASS__, 'say_marked' ), PHP_INT_MAX );
		if ( $claims['i'] ) {
			self::$proposal = $claims['p'] ? (array) get_transient( 'plumrake_' . $claims['p'] ) : array();
			remove_action( 'template_redirect', 'redirect_canonical' );
			add_filter( 'posts_results', array( __CLASS__, 'as_it_would_be' ), 10, 2 );
			add_action( 'send_headers', array( __CLASS__, 'headers' ) );
			add_filter( 'wp_robots', 'wp_robots_no_robots' );
			add_filter( 'get_post_metadata', array( __CLASS__, 'proposed_thumbnail' ), 10, 3 );
		}
	}

	/**
	 * Keeps what is shown so out of caches, and its address from other sites.
	 */
	public static function headers() {
		nocache_headers();
		header( 'Referrer-Policy: no-referrer' );
		header( 'X-Robots-Tag: noindex' );
	}

	/**
	 * Returns a signed text that says what may be seen.
	 *
	 * @param int    $id       The item; 0: pages that everybody may see, with their blocks marked.
	 * @param string $proposal The name of what is proposed for it.
	 * @param int    $seconds  How long it is good.
	 * @return string
	 */
	public static function token( $id, $proposal = '', $seconds = 900 ) {
		$claims = wp_json_encode(
			array(
				'i' => (int) $id,
				'p' => $proposal,
				'e' => time() + $seconds,
			)
		);
		$plain = rtrim( strtr( base64_encode( $claims ), '+/', '-_' ), '=' ); // phpcs:ignore WordPress.PHP.DiscouragedPHPFunctions
		return $plain . '.' . self::signature( $plain );
	}

	/**
	 * Returns the address at which an item is shown as it is proposed.
	 *
	 * @param WP_Post $post     The item.
	 * @param array   $proposal Fields of the item that are other than stored.
	 * @return string
	 */
	public static function address( $post, $proposal = array() ) {
		$name = '';
		if ( $proposal ) {
			$name = substr( hash( 'sha256', $post->ID . wp_json_encode( $proposal ) ), 0, 40 );
			set_transient( 'plumrake_' . $name, $proposal, HOUR_IN_SECONDS );
		}
		$query = 'page' === $post->post_type ? array( 'page_id' => $post->ID ) : array(
			'p'         => $post->ID,
			'post_type' => $post->post_type,
		);
		return add_query_arg( $query + array( 'plumrake' => self::token( $post->ID, $name ) ), home_url( '/' ) );
	}

	/**
	 * Shows the item as it would be.
	 *
	 * @param WP_Post[] $posts What was found.
	 * @param WP_Query  $query What was asked.
	 * @return WP_Post[]
	 */
	public static function as_it_would_be( $posts, $query ) {
		if ( ! $query->is_main_query() || 1 !== count( $posts ) || self::$claims['i'] !== $posts[0]->ID ) {
			return $posts;
		}
		$post              = $posts[0];
		$post->post_status = 'publish';
		foreach ( array( 'post_title', 'post_content', 'post_excerpt' ) as $field ) {
			if ( isset( self::$proposal[ $field ] ) ) {
				$post->$field = self::$proposal[ $field ];
			}
		}
		if ( ! wp_using_ext_object_cache() ) {
			wp_cache_set( $post->ID, $post, 'posts' );
		}
		return array( $post );
	}

	/**
	 * Shows the featured picture that is proposed.
	 *
	 * @param mixed  $value What is known.
	 * @param int    $id    The item.
	 * @param string $key   Which of its data.
	 * @return mixed
	 */
	public static function proposed_thumbnail( $value, $id, $key ) {
		$is_it = '_thumbnail_id' === $key && self::$claims['i'] === (int) $id;
		return $is_it && isset( self::$proposal['thumbnail'] ) ? array( self::$proposal['thumbnail'] ) : $value;
	}

	/**
	 * Lets each block of the item's content know its path.
	 *
	 * @param string $content The content as it is stored.
	 * @return string
	 */
	public static function with_paths( $content ) {
		return self::is_own() && has_blocks( $content ) ? serialize_blocks( self::numbered( parse_blocks( $content ) ) ) : $content;
	}

	/**
	 * Marks what the item's content makes.
	 *
	 * @param string $content The content as it is shown.
	 * @return string
	 */
	public static function within_content( $content ) {
		return self::is_own() ? '<!--plumrake:content-->' . $content . '<!--/plumrake:content-->' : $content;
	}

	/**
	 * Marks what a block makes.
	 *
	 * @param string $html  The block as it is shown.
	 * @param array  $block The block.
	 * @return string
	 */
	public static function within_block( $html, $block ) {
		$path = $block['attrs']['plumrakePath'] ?? '';
		return '' === $path ? $html : "<!--plumrake:block $path {$block['blockName']}-->$html<!--/plumrake:block-->";
	}

	/**
	 * Says that the page marks what its item's content makes.
	 */
	public static function say_marked() {
		echo '<!--plumrake:page-->';
	}

	/**
	 * Tells whether what is shown is the content of the page's own item.
	 *
	 * @return bool
	 */
	private static function is_own() {
		return is_singular() && get_the_ID() === get_queried_object_id();
	}

	/**
	 * Numbers blocks as the editor counts them: what is nothing but white space is none.
	 *
	 * @param array  $blocks The blocks.
	 * @param string $within The path of the block that they stand in.
	 * @return array
	 */
	private static function numbered( $blocks, $within = '' ) {
		$count = 0;
		foreach ( $blocks as &$block ) {
			if ( null === $block['blockName'] && '' === trim( $block['innerHTML'] ) ) {
				continue;
			}
			$path = $within . $count;
			++$count;
			if ( null !== $block['blockName'] ) {
				$block['attrs']['plumrakePath'] = $path;
				$block['innerBlocks']           = self::numbered( $block['innerBlocks'], $path . '.' );
			}
		}
		return $blocks;
	}

	/**
	 * Returns what a token says, if it is ours and still good.
	 *
	 * @param string $token The token.
	 * @return array|null
	 */
	private static function opened( $token ) {
		list( $plain, $signature ) = array_pad( explode( '.', $token, 2 ), 2, '' );
		if ( ! hash_equals( self::signature( $plain ), $signature ) ) {
			return null;
		}
		$claims = json_decode( base64_decode( strtr( $plain, '-_', '+/' ) ), true ); // phpcs:ignore WordPress.PHP.DiscouragedPHPFunctions
		return is_array( $claims ) && $claims['e'] > time() ? $claims : null;
	}

	/**
	 * Signs a text with a key of this site's own.
	 *
	 * @param string $text The text.
	 * @return string
	 */
	private static function signature( $text ) {
		$key = get_option( 'plumrake_key' );
		if ( ! $key ) {
			$key = wp_generate_password( 64, false );
			add_option( 'plumrake_key', $key, '', false );
			$key = get_option( 'plumrake_key' );
		}
		return hash_hmac( 'sha256', $text, $key );
	}
}
