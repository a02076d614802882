"""A private WordPress on loopback, from Debian's packages: its own folder, database and port, never
root."""

from __future__ import annotations

import contextlib
import os
import pwd
import secrets
import shutil
import signal
import subprocess
import tempfile
import time
from importlib.resources import as_file, files
from pathlib import Path
from typing import Final

import httpx

from plumrake.demo.cluster import ClusterError

CORE: Final = Path("/usr/share/wordpress")
_THEMES: Final = Path("/var/lib/wordpress/wp-content/themes")
_MYSQL, _WEB = "mysql", "www-data"
_SECONDS = 60.0
_PACKAGES = "wordpress php-cli php-mysql php-xml php-gd php-curl mariadb-server"
ADMIN: Final = "keeper"
"""The name that the administrator signs in with."""

_CONFIG = """<?php
define( 'DB_NAME', 'wordpress' );
define( 'DB_USER', 'wordpress' );
define( 'DB_PASSWORD', '' );
define( 'DB_HOST', 'localhost:{socket}' );
define( 'DB_CHARSET', 'utf8mb4' );
define( 'WP_CONTENT_DIR', '{folder}/content' );
define( 'WP_HOME', '{address}' );
define( 'WP_SITEURL', '{address}' );
define( 'WP_ENVIRONMENT_TYPE', 'local' );
define( 'AUTOMATIC_UPDATER_DISABLED', true );
define( 'WP_HTTP_BLOCK_EXTERNAL', true );
define( 'WP_ACCESSIBLE_HOSTS', '127.0.0.1' );
define( 'DISABLE_WP_CRON', true );
define( 'WP_DEBUG', false );
define( 'FS_METHOD', 'direct' );
{keys}
$table_prefix = 'wp_';
if ( ! defined( 'ABSPATH' ) ) {{
	define( 'ABSPATH', __DIR__ . '/' );
}}
require_once ABSPATH . 'wp-settings.php';
"""
_KEYS = ("AUTH", "SECURE_AUTH", "LOGGED_IN", "NONCE")
_ROUTER = """<?php
$root = $_SERVER['DOCUMENT_ROOT'];
$path = '/' . ltrim( rawurldecode( parse_url( $_SERVER['REQUEST_URI'], PHP_URL_PATH ) ), '/' );
if ( 0 === strpos( $path, '/wp-content/' ) ) {
	$file = realpath( '{folder}/content/' . substr( $path, 12 ) );
	$ends = pathinfo( (string) $file, PATHINFO_EXTENSION );
	if ( $file && is_file( $file ) && 'php' !== $ends ) {
		$known = array( 'css' => 'text/css', 'js' => 'text/javascript', 'svg' => 'image/svg+xml' );
		header( 'Content-Type: ' . ( $known[ $ends ] ?? mime_content_type( $file ) ) );
		readfile( $file );
		return true;
	}
}
$file = realpath( $root . $path );
if ( $file && is_dir( $file ) && is_file( $file . '/index.php' ) && '/' !== $path ) {
	$_SERVER['SCRIPT_NAME'] = rtrim( $path, '/' ) . '/index.php';
	$_SERVER['PHP_SELF']    = $_SERVER['SCRIPT_NAME'];
	chdir( $file );
	require $file . '/index.php';
	return true;
}
if ( $file && is_file( $file ) && '/' !== $path ) {
	return false;
}
$_SERVER['SCRIPT_NAME'] = '/index.php';
$_SERVER['PHP_SELF']    = '/index.php';
chdir( $root );
require $root . '/index.php';
return true;
"""


class WordPress:
    """One WordPress below ``folder``, at a port of loopback; ``start`` makes it when it is not
    there yet."""

    def __init__(self, folder: Path, port: int) -> None:
        self.folder = folder
        self.port = port
        self._database: subprocess.Popen[bytes] | None = None
        self._server: subprocess.Popen[bytes] | None = None

    @property
    def address(self) -> str:
        """Where the site is."""
        return f"http://127.0.0.1:{self.port}"

    @property
    def password(self) -> str:
        """The administrator's password."""
        return (self.folder / "password").read_text().strip()

    def start(self) -> None:
        """Start database and server, and install the site where it is missing. Raises
        ``ClusterError``."""
        if not CORE.is_dir() or shutil.which("php") is None or shutil.which("mariadbd") is None:
            raise ClusterError(
                "WordPress is not installed; run 'make setup' or install the packages " + _PACKAGES
            )
        is_new = not (self.folder / "password").exists()
        self._lay_out()
        self._start_database()
        self._start_server()
        if is_new:
            self._install()

    def stop(self) -> None:
        """Stop server and database."""
        for child in (self._server, self._database):
            if child is not None:
                _end(child)
        if self._database is not None:
            shutil.rmtree(self._sockets, ignore_errors=True)

    def run(self, script: Path, *words: str, given: str = "") -> str:
        """Run a PHP script within WordPress; return what it prints. Raises ``ClusterError``."""
        done = subprocess.run(
            [*_as(_WEB), "php", str(script), f"{self.folder}/core/wp-load.php", *words],
            input=given,
            capture_output=True,
            text=True,
            check=False,
            cwd=self.folder / "core",
        )
        if done.returncode:
            raise ClusterError(f"{script.name}: {done.stderr.strip() or done.stdout.strip()}")
        return done.stdout

    def cron(self) -> None:
        """Do what is due, as the system's timer would."""
        httpx.get(f"{self.address}/wp-cron.php", params={"doing_wp_cron": ""}, timeout=_SECONDS)

    def _lay_out(self) -> None:
        core, content = self.folder / "core", self.folder / "content"
        (self.folder / "database").mkdir(parents=True, exist_ok=True)
        self.folder.chmod(0o755)
        if not (core / "wp-load.php").exists():
            shutil.copytree(CORE, core, dirs_exist_ok=True)
        for name in ("plugins", "uploads"):
            (content / name).mkdir(parents=True, exist_ok=True)
        if not (content / "themes").exists():
            shutil.copytree(_THEMES, content / "themes")
        plugin = content / "plugins" / "plumrake"
        shutil.rmtree(plugin, ignore_errors=True)
        with as_file(files("plumrake.connectors") / "wordpress" / "plumrake") as ours:
            shutil.copytree(ours, plugin)
        self._sockets = Path(tempfile.mkdtemp(prefix="plr-wp-"))
        self._sockets.chmod(0o777)
        keys = "\n".join(
            f"define( '{name}_{what}', '{secrets.token_urlsafe(32)}' );"
            for name in _KEYS
            for what in ("KEY", "SALT")
        )
        if (known := self.folder / "keys").exists():
            keys = known.read_text()
        known.write_text(keys)
        (core / "wp-config.php").write_text(
            _CONFIG.format(
                socket=f"{self._sockets}/s", folder=self.folder, address=self.address, keys=keys
            )
        )
        (self.folder / "router.php").write_text(_ROUTER.replace("{folder}", str(self.folder)))
        if os.geteuid() == 0:
            for name, user in (("content", _WEB), ("core", _WEB), ("database", _MYSQL)):
                subprocess.run(["chown", "-R", user, str(self.folder / name)], check=True)

    def _start_database(self) -> None:
        data = self.folder / "database"
        user = [f"--user={_MYSQL}"] if os.geteuid() == 0 else []
        log = (self.folder / "database.log").open("ab")
        if not (data / "mysql").is_dir():
            made = ["mariadb-install-db", f"--datadir={data}", *user, "--skip-test-db"]
            normal = "--auth-root-authentication-method=normal"
            subprocess.run([*made, normal], check=True, stdout=log, stderr=log)
        small = ("--innodb-buffer-pool-size=64M", "--innodb-flush-log-at-trx-commit=2")
        socket = self._sockets / "s"
        self._database = subprocess.Popen(
            [
                *("mariadbd", "--no-defaults", f"--datadir={data}", f"--socket={socket}"),
                *("--skip-networking", "--performance-schema=OFF", *small, *user),
            ],
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            start_new_session=True,
        )
        self._await_database(socket)

    def _await_database(self, socket: Path) -> None:
        make = (
            "CREATE DATABASE IF NOT EXISTS wordpress CHARACTER SET utf8mb4; "
            "CREATE USER IF NOT EXISTS wordpress@localhost; "
            "GRANT ALL ON wordpress.* TO wordpress@localhost;"
        )
        end = time.monotonic() + _SECONDS
        while time.monotonic() < end:
            done = subprocess.run(
                ["mariadb", "--no-defaults", f"--socket={socket}", "-uroot", "-e", make],
                capture_output=True,
                check=False,
            )
            if done.returncode == 0:
                return
            time.sleep(0.1)
        raise ClusterError(f"MariaDB did not start; its log is {self.folder / 'database.log'}")

    def _start_server(self) -> None:
        log = (self.folder / "server.log").open("ab")
        quick = ("-d", "opcache.enable_cli=1", "-d", "opcache.memory_consumption=128")
        self._server = subprocess.Popen(
            [
                *_as(_WEB),
                *("php", *quick, "-S", f"127.0.0.1:{self.port}", "-t", str(self.folder / "core")),
                str(self.folder / "router.php"),
            ],
            env={**os.environ, "PHP_CLI_SERVER_WORKERS": "6"},
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            start_new_session=True,
        )
        end = time.monotonic() + _SECONDS
        while time.monotonic() < end and self._server.poll() is None:
            try:
                httpx.get(f"{self.address}/readme.html", timeout=5)
            except httpx.TransportError:
                time.sleep(0.1)
            else:
                return
        raise ClusterError(f"WordPress did not start; its log is {self.folder / 'server.log'}")

    def _install(self) -> None:
        password = secrets.token_urlsafe(18)
        answer = httpx.post(
            f"{self.address}/wp-admin/install.php?step=2",
            data={
                "weblog_title": "Tarn Vale Botanic Garden",
                "user_name": ADMIN,
                "admin_password": password,
                "admin_password2": password,
                "pw_weak": "1",
                "admin_email": "keeper@tarnvale.example",
                "blog_public": "0",
                "language": "en_GB",
            },
            timeout=_SECONDS,
        )
        if "success" not in answer.text.lower():
            raise ClusterError(f"WordPress could not be installed: {answer.text[:500]}")
        file = self.folder / "password"
        file.touch(0o600)
        file.write_text(password + "\n")


def _end(child: subprocess.Popen[bytes]) -> None:
    """End a process with all that it started: PHP's server leaves its workers behind."""
    for number in (signal.SIGTERM, signal.SIGKILL):
        with contextlib.suppress(ProcessLookupError):
            os.killpg(child.pid, number)
        with contextlib.suppress(subprocess.TimeoutExpired):
            child.wait(15)
            return


def _as(user: str) -> list[str]:
    """Return the words before a command that make it run as a user, where we are root."""
    if os.geteuid() != 0:
        return []
    known = pwd.getpwnam(user)
    return [
        *("setpriv", f"--reuid={user}", f"--regid={known.pw_gid}", "--init-groups"),
        *("--inh-caps=-all", "--pdeathsig=TERM"),
    ]
