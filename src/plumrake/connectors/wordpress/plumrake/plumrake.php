<?php
/**
 * Plugin Name:       Plum Rake
 * Description:       Asks the gate before anything is published, shows what was found where it is written, and lets Plum Rake read drafts and write corrections.
 * Version:           1.0.0
 * Requires at least: 6.1
 * Requires PHP:      7.4
 * Author:            Plum Rake
 * License:           GPL-2.0-or-later
 * Text Domain:       plumrake
 * Domain Path:       /languages
 *
 * @package Plumrake
 */

defined( 'ABSPATH' ) || exit;

define( 'PLUMRAKE_VERSION', '1.0.0' );

require __DIR__ . '/includes/class-plumrake-service.php';
require __DIR__ . '/includes/class-plumrake-reading.php';
require __DIR__ . '/includes/class-plumrake-gate.php';
require __DIR__ . '/includes/class-plumrake-items.php';
require __DIR__ . '/includes/class-plumrake-marks.php';
require __DIR__ . '/includes/class-plumrake-settings.php';

add_action( 'plugins_loaded', array( 'Plumrake_Reading', 'start' ) );
Plumrake_Gate::start();
Plumrake_Items::start();
Plumrake_Marks::start();
Plumrake_Settings::start();

register_deactivation_hook(
	__FILE__,
	static function () {
		wp_clear_scheduled_hook( 'plumrake_ask_again' );
	}
);
