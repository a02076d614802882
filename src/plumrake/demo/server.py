"""The demo site's web server: one folder, one port, conditional requests answered, pages sent with
their charset."""

from __future__ import annotations

from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any


class _Handler(SimpleHTTPRequestHandler):
    protocol_version = "HTTP/1.1"
    server_version = "Harrowmere"
    sys_version = ""
    # head and body are two writes: the second would wait 40 ms for the first to be acknowledged
    disable_nagle_algorithm = True

    def log_message(self, format: str, *args: Any) -> None:
        """Say nothing: the demo's terminal is for its user."""

    def guess_type(self, path: Any) -> str:
        kind = super().guess_type(path)
        return f"{kind}; charset=utf-8" if kind in ("text/html", "text/css") else kind

    def list_directory(self, path: Any) -> None:
        self.send_error(404)

    def end_headers(self) -> None:
        self.send_header(
            "Cache-Control",
            "max-age=60" if self.path.startswith(("/assets/", "/media/")) else "no-cache",
        )
        super().end_headers()


class _Server(ThreadingHTTPServer):
    daemon_threads = True
    # a browser asks for all of a page at once; what five waiting connections leave out would hang
    # for seconds
    request_queue_size = 128


def make_server(folder: Path, port: int, host: str = "127.0.0.1") -> ThreadingHTTPServer:
    """Return a server of ``folder`` (on loopback, unless said) that is bound but does not serve
    yet."""
    return _Server((host, port), partial(_Handler, directory=str(folder)))
