"""A git server over http, as one stands beside an organisation's site: git's own backend, behind a
name and a password."""

from __future__ import annotations

import base64
import os
import subprocess
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from urllib.parse import urlsplit

from tests.services import serve_in_thread

USER, PASSWORD = "rake", "carry it over"
BACKEND = Path("/usr/lib/git-core/git-http-backend")


def serve_git(folder: Path) -> str:
    """Serve the repositories below a folder; return the address."""
    signed = base64.b64encode(f"{USER}:{PASSWORD}".encode()).decode()

    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            self._answer()

        do_POST = do_GET  # noqa: N815 - the library's own name

        def _answer(self) -> None:
            if self.headers.get("authorization") != f"Basic {signed}":
                self.send_response(401)
                self.send_header("WWW-Authenticate", 'Basic realm="git"')
                self.send_header("Content-Length", "0")
                self.end_headers()
                return
            where = urlsplit(self.path)
            size = int(self.headers.get("content-length") or 0)
            body = self.rfile.read(size) if size else self._chunks()
            done = subprocess.run(
                [str(BACKEND)],
                input=body,
                capture_output=True,
                check=False,
                env={
                    "PATH": os.environ["PATH"],
                    "GIT_PROJECT_ROOT": str(folder),
                    "GIT_HTTP_EXPORT_ALL": "1",
                    "REMOTE_USER": USER,
                    "REQUEST_METHOD": self.command,
                    "PATH_INFO": where.path,
                    "QUERY_STRING": where.query,
                    "CONTENT_TYPE": self.headers.get("content-type", ""),
                    "HTTP_CONTENT_ENCODING": self.headers.get("content-encoding", ""),
                    "GIT_PROTOCOL": self.headers.get("git-protocol", ""),
                    "GIT_CONFIG_COUNT": "2",
                    "GIT_CONFIG_KEY_0": "safe.directory",
                    "GIT_CONFIG_VALUE_0": "*",
                    "GIT_CONFIG_KEY_1": "http.receivepack",
                    "GIT_CONFIG_VALUE_1": "true",
                },
            )
            head, _, rest = done.stdout.partition(b"\r\n\r\n")
            lines = [line.split(": ", 1) for line in head.decode().splitlines() if ": " in line]
            status = next((value for name, value in lines if name == "Status"), "200 OK")
            self.send_response(int(status.split()[0]))
            for name, value in lines:
                if name != "Status":
                    self.send_header(name, value)
            self.send_header("Content-Length", str(len(rest)))
            self.end_headers()
            self.wfile.write(rest)

        def _chunks(self) -> bytes:
            if self.headers.get("transfer-encoding") != "chunked":
                return b""
            body = b""
            while size := int(self.rfile.readline().strip() or b"0", 16):
                body += self.rfile.read(size)
                self.rfile.readline()
            return body

        def log_message(self, *_: object) -> None:
            """Say nothing."""

    return serve_in_thread(ThreadingHTTPServer(("127.0.0.1", 0), Handler))
