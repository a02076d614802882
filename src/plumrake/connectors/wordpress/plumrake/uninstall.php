<?php
/**
 * Takes all of the plugin's data away.
 *
 * @package Plumrake
 */

defined( 'WP_UNINSTALL_PLUGIN' ) || exit;

delete_option( 'plumrake' );
delete_option( 'plumrake_key' );
delete_metadata( 'user', 0, 'plumrake_notices', '', true );

global $wpdb;
// phpcs:ignore WordPress.DB.DirectDatabaseQuery -- transients have no other way to be found.
$wpdb->query( "DELETE FROM {$wpdb->options} WHERE option_name LIKE '\_transient\_plumrake\_%' OR option_name LIKE '\_transient\_timeout\_plumrake\_%'" );
