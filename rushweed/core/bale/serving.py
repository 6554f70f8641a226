"""A bundle over plain HTTP on this machine alone, with news for whoever listens.

`/bundle/NAME` is a file of the newest edition, with its SHA-256 as ETag (RFC 9110, 8.8.3);
`/events` tells every new edition as a server-sent event (HTML Living Standard, 9.2); everything
else comes from a folder of the game's own, if there is one.
"""

from __future__ import annotations

from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from mimetypes import guess_type
from pathlib import Path
from threading import Event, Thread
from typing import Any
from urllib.parse import unquote, urlsplit

from rushweed.core.bale.freshening import FreshBundle
from rushweed.core.folder.inside import Inside
from rushweed.core.values import Refusal

LOOPBACK = "127.0.0.1"
BUNDLE, EVENTS = "/bundle/", "/events"
BEAT = 2.0
"""Seconds after which a listener hears that nothing is new, so that one who left is noticed."""
LARGEST = 256 << 20


class BundleServer:
    """Serves until it is closed; `address` is where."""

    def __init__(self, bundle: FreshBundle, port: int = 0, page: Path | None = None) -> None:
        """Raises Refusal for a port that is taken, and for a page that is no folder."""
        if page is not None and not page.is_dir():
            raise Refusal("There is no folder “{page}” to serve. Check the path.", page=page)
        self._closing = Event()
        handler = type("Bound", (Handler,), {})
        try:
            self._server = ThreadingHTTPServer((LOOPBACK, port), handler)
        except OSError as problem:
            raise Refusal("The port {port} is taken. Choose another one.", port=port) from problem
        self._server.daemon_threads = True
        number = self._server.server_address[1]
        self.address = f"http://{LOOPBACK}:{number}/"
        handler.bundle, handler.closing = bundle, self._closing  # type: ignore[attr-defined]
        handler.page = Inside(page) if page else None  # type: ignore[attr-defined]
        names = (LOOPBACK, "localhost")
        handler.hosts = frozenset(f"{name}:{number}" for name in names)  # type: ignore[attr-defined]
        self._thread = Thread(target=self._server.serve_forever, args=(0.1,), daemon=True)
        self._thread.start()

    def close(self) -> None:
        """End it, and everything that listens."""
        self._closing.set()
        self._server.shutdown()
        self._server.server_close()
        self._thread.join()


class Handler(BaseHTTPRequestHandler):
    """Answers one reader."""

    bundle: FreshBundle
    closing: Event
    page: Inside | None
    hosts: frozenset[str]
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        try:
            path = unquote(urlsplit(self.path).path)
        except ValueError:
            self._say(400, b"That is no address.")
            return
        if not self._is_let_in():
            self._say(403, b"Only pages that come from here are let in.")
        elif path == EVENTS:
            self._tell_news()
        elif path.startswith(BUNDLE):
            self._send_file(path.removeprefix(BUNDLE))
        else:
            self._send_page(path.lstrip("/") or "index.html")

    def _is_let_in(self) -> bool:
        """Only this machine by its own names, and only pages that come from here: others could
        read what is not theirs by a name that leads here."""
        origin = self.headers.get("Origin")
        own = {f"http://{host}" for host in self.hosts}
        return self.headers.get("Host") in self.hosts and (origin is None or origin in own)

    def _send_file(self, name: str) -> None:
        edition = self.bundle.edition
        data = edition.files.get(name)
        if data is None:
            self._say(404, b"There is no such file in the bundle.")
            return
        tag = f'"{edition.hashes[name]}"'
        if tag in (self.headers.get("If-None-Match") or ""):
            self.send_response(304)
            self.send_header("ETag", tag)
            self.end_headers()
            return
        self._say(200, data, name, {"ETag": tag, "Cache-Control": "no-cache"})

    def _send_page(self, name: str) -> None:
        try:
            data = self.page.read(name, LARGEST) if self.page else None
        except (OSError, Refusal, ValueError):
            data = None
        if data is None:
            self._say(404, b"There is nothing here. The bundle lies under /bundle/.")
        else:
            self._say(200, data, name, {"Cache-Control": "no-cache"})

    def _tell_news(self) -> None:
        self.send_response(200)
        self.send_header("Content-Type", "text/event-stream")
        self.send_header("Cache-Control", "no-store")
        self.send_header("Connection", "close")
        self.end_headers()
        self.close_connection = True
        number = self.bundle.edition.number
        try:
            self._write(b": here\n\n")
            while not self.closing.is_set():
                edition = self.bundle.wait(number, BEAT)
                if edition is None:
                    self._write(b": still here\n\n")
                    continue
                number = edition.number
                self._write(b"event: changed\ndata: " + edition.told() + b"\n\n")
        except OSError:
            return

    def _write(self, data: bytes) -> None:
        self.wfile.write(data)
        self.wfile.flush()

    def _say(
        self, status: int, data: bytes, name: str = "told.txt", more: dict[str, str] | None = None
    ) -> None:
        self.send_response(status)
        kind = guess_type(name)[0] or "application/octet-stream"
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(data)))
        self.send_header("X-Content-Type-Options", "nosniff")
        for header, value in (more or {}).items():
            self.send_header(header, value)
        self.end_headers()
        if self.command != "HEAD":
            self.wfile.write(data)

    do_HEAD = do_GET  # noqa: N815 - the library asks for this name

    def log_message(self, *_: Any) -> None:
        """Say nothing on standard error."""
