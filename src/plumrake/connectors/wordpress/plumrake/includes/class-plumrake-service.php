<?php
/**
 * Speaking with the service.
 *
 * @package Plumrake
 */

/**
 * The settings of the connection, and the calls that are made with them.
 */
final class Plumrake_Service {

	const DEFAULTS = array(
		'service' => '',
		'site'    => '',
		'token'   => '',
		'user'    => '',
		'lens'    => 'rendered',
		'wait'    => 20,
		'closed'  => true,
	);

	/**
	 * Returns a setting; a constant PLUMRAKE_NAME of wp-config.php goes before what is stored.
	 *
	 * @param string $name The setting.
	 * @return mixed
	 */
	public static function setting( $name ) {
		$constant = 'PLUMRAKE_' . strtoupper( $name );
		if ( defined( $constant ) ) {
			return constant( $constant );
		}
		$kept = get_option( 'plumrake', array() );
		return $kept[ $name ] ?? self::DEFAULTS[ $name ];
	}

	/**
	 * Tells whether the plugin knows where to ask.
	 *
	 * @return bool
	 */
	public static function is_set_up() {
		return self::setting( 'service' ) && self::setting( 'site' ) && self::setting( 'token' );
	}

	/**
	 * Asks the service something; returns its status (0: it is away) and its answer.
	 *
	 * @param string     $method  GET or POST.
	 * @param string     $place   What follows the site's address in the API.
	 * @param array|null $body    What is sent as JSON.
	 * @param float      $seconds How long an answer may take; 0: nobody waits for it.
	 * @return array{0: int, 1: array}
	 */
	public static function call( $method, $place, $body = null, $seconds = 10.0 ) {
		$answer = wp_remote_request(
			untrailingslashit( self::setting( 'service' ) ) . '/api/v1/' . $place,
			array(
				'method'      => $method,
				'timeout'     => $seconds ? $seconds : 1,
				'blocking'    => (bool) $seconds,
				'redirection' => 0,
				'headers'     => array(
					'Authorization' => 'Bearer ' . self::setting( 'token' ),
					'Content-Type'  => 'application/json',
				),
				'body'        => null === $body ? null : wp_json_encode( $body ),
			)
		);
		if ( is_wp_error( $answer ) ) {
			return array( 0, array( 'detail' => $answer->get_error_message() ) );
		}
		$data = json_decode( wp_remote_retrieve_body( $answer ), true );
		return array( (int) wp_remote_retrieve_response_code( $answer ), is_array( $data ) ? $data : array() );
	}

	/**
	 * Returns the part of the API's address that names the site.
	 *
	 * @param string $rest What follows it.
	 * @return string
	 */
	public static function of_site( $rest ) {
		return 'sites/' . rawurlencode( self::setting( 'site' ) ) . '/' . $rest;
	}
}
