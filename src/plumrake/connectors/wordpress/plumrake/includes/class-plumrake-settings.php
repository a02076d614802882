<?php
/**
 * The settings page.
 *
 * @package Plumrake
 */

/**
 * Settings, Plum Rake: where the service is, and whether it can be reached.
 */
final class Plumrake_Settings {

	/**
	 * Adds the page.
	 */
	public static function start() {
		add_action( 'admin_menu', array( __CLASS__, 'menu' ) );
		add_action( 'admin_init', array( __CLASS__, 'register' ) );
	}

	/**
	 * Adds the page to the menu.
	 */
	public static function menu() {
		add_options_page( 'Plum Rake', 'Plum Rake', 'manage_options', 'plumrake', array( __CLASS__, 'page' ) );
	}

	/**
	 * Registers what is stored.
	 */
	public static function register() {
		register_setting(
			'plumrake',
			'plumrake',
			array(
				'type'              => 'object',
				'sanitize_callback' => array( __CLASS__, 'cleaned' ),
			)
		);
	}

	/**
	 * Returns the settings as they may be stored; an empty token leaves the one that is known.
	 *
	 * @param mixed $given What was given.
	 * @return array
	 */
	public static function cleaned( $given ) {
		$given = is_array( $given ) ? $given : array();
		$token = trim( (string) ( $given['token'] ?? '' ) );
		return array(
			'service' => esc_url_raw( trim( (string) ( $given['service'] ?? '' ) ), array( 'http', 'https' ) ),
			'site'    => sanitize_title( (string) ( $given['site'] ?? '' ) ),
			'token'   => '' !== $token ? $token : Plumrake_Service::setting( 'token' ),
			'user'    => sanitize_user( (string) ( $given['user'] ?? '' ) ),
			'lens'    => 'markup' === ( $given['lens'] ?? '' ) ? 'markup' : 'rendered',
			'wait'    => max( 1, min( 40, (int) ( $given['wait'] ?? 20 ) ) ),
			'closed'  => ! empty( $given['closed'] ),
		);
	}

	/**
	 * Shows the page, with what the connection is like now.
	 */
	public static function page() {
		list( $is_well, $says ) = self::checked();
		?>
		<div class="wrap">
			<h1>Plum Rake</h1>
			<div class="notice notice-<?php echo $is_well ? 'success' : 'error'; ?> inline"><p><?php echo esc_html( $says ); ?></p></div>
			<form action="options.php" method="post">
				<?php settings_fields( 'plumrake' ); ?>
				<table class="form-table" role="presentation">
					<?php
					self::field( 'service', __( 'Address of the service', 'plumrake' ), 'url', '' );
					self::field( 'site', __( 'Site', 'plumrake' ), 'text', __( 'The short name that the site has in Plum Rake.', 'plumrake' ) );
					self::field( 'token', __( 'Token', 'plumrake' ), 'password', Plumrake_Service::setting( 'token' ) ? __( 'One is stored; leave this empty to keep it.', 'plumrake' ) : __( 'Made in Plum Rake for this site, for the gate alone.', 'plumrake' ) );
					self::field( 'user', __( 'Plum Rake signs in as', 'plumrake' ), 'text', __( 'The name of the one user who may read drafts for it and write corrections, which are not asked about; with an application password.', 'plumrake' ) );
					self::field( 'wait', __( 'Seconds to wait for an answer', 'plumrake' ), 'number', '' );
					?>
					<tr>
						<th scope="row"><?php esc_html_e( 'Pages are read', 'plumrake' ); ?></th>
						<td><fieldset>
							<legend class="screen-reader-text"><?php esc_html_e( 'Pages are read', 'plumrake' ); ?></legend>
							<label><input type="radio" name="plumrake[lens]" value="rendered" <?php checked( Plumrake_Service::setting( 'lens' ), 'rendered' ); ?>> <?php esc_html_e( 'in a browser, with colours and layout', 'plumrake' ); ?></label><br>
							<label><input type="radio" name="plumrake[lens]" value="markup" <?php checked( Plumrake_Service::setting( 'lens' ), 'markup' ); ?>> <?php esc_html_e( 'by their markup alone, at once', 'plumrake' ); ?></label>
						</fieldset></td>
					</tr>
					<tr>
						<th scope="row"><?php esc_html_e( 'When the service is away', 'plumrake' ); ?></th>
						<td><label><input type="checkbox" name="plumrake[closed]" value="1" <?php checked( (bool) Plumrake_Service::setting( 'closed' ) ); ?>> <?php esc_html_e( 'nothing is published', 'plumrake' ); ?></label></td>
					</tr>
				</table>
				<?php submit_button(); ?>
			</form>
		</div>
		<?php
	}

	/**
	 * Returns whether the service can be asked, and a sentence.
	 *
	 * @return array{0: bool, 1: string}
	 */
	private static function checked() {
		if ( ! Plumrake_Service::is_set_up() ) {
			return array( false, __( 'Not set up yet: nothing asks the gate.', 'plumrake' ) . ' ' . ( Plumrake_Service::setting( 'closed' ) ? __( 'Until it is, nothing can be published.', 'plumrake' ) : '' ) );
		}
		list( $status, $data ) = Plumrake_Service::call( 'GET', Plumrake_Service::of_site( 'gate' ), null, 8 );
		if ( 200 === $status ) {
			/* translators: %s: what holds a publication. */
			return array( true, sprintf( __( 'Connected. %s', 'plumrake' ), $data['says'] ) );
		}
		/* translators: %s: why. */
		return array( false, sprintf( __( 'The gate cannot be asked: %s', 'plumrake' ), $data['detail'] ?? $status ) );
	}

	/**
	 * Shows a field.
	 *
	 * @param string $name  The setting.
	 * @param string $label What it is called.
	 * @param string $type  The kind of input.
	 * @param string $hint  What helps.
	 */
	private static function field( $name, $label, $type, $hint ) {
		printf(
			'<tr><th scope="row"><label for="plumrake-%1$s">%2$s</label></th><td><input class="regular-text" id="plumrake-%1$s" name="plumrake[%1$s]" type="%3$s" value="%4$s" autocomplete="off"%5$s>%6$s</td></tr>',
			esc_attr( $name ),
			esc_html( $label ),
			esc_attr( $type ),
			esc_attr( 'password' === $type ? '' : (string) Plumrake_Service::setting( $name ) ),
			$hint ? ' aria-describedby="plumrake-' . esc_attr( $name ) . '-hint"' : '',
			$hint ? '<p class="description" id="plumrake-' . esc_attr( $name ) . '-hint">' . esc_html( $hint ) . '</p>' : ''
		);
	}
}
