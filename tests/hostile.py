"""A web server that misbehaves in every way that a sweep has to survive. Bounded, on loopback."""

from __future__ import annotations

import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

ENDLESS = (
    b"<!doctype html><html lang=en><title>Busy</title><h1>Busy</h1><script>while (true) "
    b"{}</script><p>never"
)
DIALOGS = (
    b"<!doctype html><html lang=en><title>Asks</title><h1>Asks</h1><script>alert(1); "
    b"confirm(2); prompt(3)</script>"
)
AWAY = (
    b"<!doctype html><html lang=en><title>Away</title><h1>Away</h1><script>location.href = "
    b"'/fine'</script>"
)
LATER = (
    b"<!doctype html><html lang=en><title>Later</title><h1>Later</h1><script>setTimeout(() "
    b"=> { while (true) {} }, 0)</script>"
)
SIGN_IN = (
    b"<!doctype html><html lang=en><title>Sign in</title><main><h1>Sign "
    b"in</h1><form><label>Password <input type=password></label></form></main>"
)
CHARSET = (
    "<!doctype html><html lang=en><meta "
    "charset=utf-16><title>Caf\xe9</title><main><h1>Caf\xe9 \x81\x8d</h1></main>"
).encode("latin-1")
BROKEN = (
    b"<title>Broken</title><h1>Broken<table><p><b><i></table></b><svg><p></svg></h9><a "
    b"href='/x\"<div <<<>>&#xFFFFFFFF;&bogus;\0\xff</p>"
)
INLINE = (
    b"<!doctype html><html lang=en><title>Inline</title><main><h1>Inline</h1><img alt='' "
    b"src='data:image/png;base64,%s'></main>"
) % (b"A" * 9_000_000)
FINE = (
    b"<!doctype html><html lang=en><title>Fine</title><main><h1>Fine</h1><p>All is well.</p></main>"
)


class Hostile(BaseHTTPRequestHandler):
    """Answers by path; see ``PROBLEMS`` for what a reading makes of each."""

    protocol_version = "HTTP/1.1"

    def log_message(self, format: str, *args: Any) -> None:
        pass

    def _send(
        self, body: bytes, kind: str = "text/html; charset=utf-8", status: int = 200, **headers: str
    ) -> None:
        self.send_response(status)
        for name, value in headers.items():
            self.send_header(name.replace("_", "-"), value)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def _redirect(self, place: str) -> None:
        self.send_response(302)
        self.send_header("Location", place)
        self.send_header("Content-Length", "0")
        self.end_headers()

    def _large(self) -> None:
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.send_header("Connection", "close")
        self.end_headers()
        for _ in range(60):
            self.wfile.write(b"<p>" + b"x" * 1_000_000)

    def _drip(self) -> None:
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.send_header("Connection", "close")
        self.end_headers()
        for _ in range(120):
            self.wfile.write(b" ")
            self.wfile.flush()
            time.sleep(0.25)

    def do_GET(self) -> None:
        bodies = {
            "/fine": FINE,
            "/endless-script": ENDLESS,
            "/endless-later": LATER,
            "/dialogs": DIALOGS,
            "/sends-away": AWAY,
            "/sign-in": SIGN_IN,
            "/wrong-charset": CHARSET,
            "/broken-html": BROKEN,
            "/inline-data": INLINE,
        }
        try:
            if self.path in bodies:
                self._send(bodies[self.path])
            elif self.path == "/never":
                time.sleep(30)
            elif self.path == "/large":
                self._large()
            elif self.path == "/drip":
                self._drip()
            elif self.path.startswith("/round"):
                self._redirect(f"/round?{int(self.path.partition('?')[2] or 0) + 1}")
            elif self.path == "/members":
                self._redirect("/sign-in")
            elif self.path == "/storm":
                self._send(b"slow down", status=429, Retry_After="0")
            elif self.path == "/to-file":
                self._redirect("file:///etc/passwd")
            elif self.path == "/document":
                self._send(b"%PDF-1.7 ...", "application/pdf")
            elif self.path == "/refused":
                self._send(b"no", status=503)
            elif self.path == "/sitemap.xml":
                self._send(b"<urlset", "application/xml")
            else:
                self._send(b"<h1>not here</h1>", status=404)
        except (BrokenPipeError, ConnectionResetError):
            pass


PROBLEMS: dict[str, str | None] = {
    "/fine": None,
    "/never": "timed-out",
    "/drip": "timed-out",
    "/large": "too-large",
    "/endless-script": "script-endless",
    "/endless-later": "script-endless",
    "/round": "too-many-redirects",
    "/to-file": "bad-address",
    "/document": "not-html",
    "/missing": "http-status",
    "/refused": "http-status",
    "/dialogs": None,
    "/members": "sign-in-wanted",
    "/sign-in": None,
    "/storm": "http-status",
    "/wrong-charset": None,
    "/broken-html": None,
    "/inline-data": None,
}
"""What a rendered reading makes of each path: a problem code, or None where the page is read all
the same."""


def hostile_server() -> ThreadingHTTPServer:
    """Return the server, bound to a free port of loopback."""
    server = ThreadingHTTPServer(("127.0.0.1", 0), Hostile)
    server.daemon_threads = True
    return server
