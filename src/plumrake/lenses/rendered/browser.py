"""The browser and its tabs: started when first needed, started again when it dies, every call
bounded in time."""

from __future__ import annotations

import asyncio
import base64
import contextlib
from collections.abc import AsyncIterator, Coroutine, Iterator
from dataclasses import dataclass
from typing import Any, TypeVar

from playwright.async_api import (
    Browser,
    BrowserContext,
    CDPSession,
    Error,
    Page,
    Playwright,
    ProxySettings,
    async_playwright,
)

from plumrake.core.addresses import origin
from plumrake.lenses.rendered.jail import Jail, find_browser
from plumrake.lenses.rendered.jailed import PORT
from plumrake.lenses.rendered.scripts import collecting, script
from plumrake.net.exchange import USER_AGENT
from plumrake.net.fetch import Fetched, LocalFiles
from plumrake.net.problems import Unreadable
from plumrake.net.proxy import GuardProxy
from plumrake.net.shared_files import SharedFiles, StoredFile, may_be_shared

Learnt = TypeVar("Learnt")

_CLOSE_SECONDS = 3.0
_START_SECONDS, _OPEN_SECONDS = 60.0, 20.0
"""A browser that takes longer to start, or to open a tab, does not answer any more."""
_SETTLE_SECONDS = 5.0
_VIEWPORT = (1280, 800)
_NOWHERE = ProxySettings(server="http://127.0.0.1:9", bypass="<-loopback>")
"""A proxy at which nobody listens."""
_CODE = ("Stylesheet", "Script")
_SHARED_KINDS = (*_CODE, "Image", "Font")
_OF_THE_WAY = ("content-encoding", "content-length", "transfer-encoding", "connection")
"""Headers of how a file came, not of what it is."""
_ARGUMENTS = (
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
    "--disable-quic",
    "--disable-extensions",
    "--disable-default-apps",
    "--dns-prefetch-disable",
    "--force-color-profile=srgb",
    "--mute-audio",
    "--force-webrtc-ip-handling-policy=disable_non_proxied_udp",
    "--disable-features=Translate,OptimizationHints,MediaRouter",
    "--autoplay-policy=user-gesture-required",
    "--disable-checker-imaging",
    "--block-new-web-contents",
)


class NoBrowser(RuntimeError):
    """No headless Chromium is on this machine."""

    code = "no-browser"

    def __init__(self) -> None:
        super().__init__(
            "no headless Chromium was found; install 'chromium-headless-shell' or set "
            "PLUMRAKE_BROWSER to its path"
        )


class BrowserPool:
    """One headless Chromium behind the guard proxy with up to ``tabs`` tabs; use as an async
    context manager."""

    def __init__(self, proxy: GuardProxy, tabs: int = 2) -> None:
        binary = find_browser()
        if binary is None:
            raise NoBrowser
        self._proxy = proxy
        self._jail = Jail(binary)
        self._free = asyncio.Semaphore(tabs)
        self._starting = asyncio.Lock()
        self._playwright: Playwright | None = None
        self._browser: Browser | None = None

    @property
    def notice(self) -> str:
        """A sentence on how the browser runs where that is less safe than it should be, else
        ``""``."""
        return self._jail.kind.notice

    async def __aenter__(self) -> BrowserPool:
        self._playwright = await async_playwright().start()
        return self

    async def __aexit__(self, *_: object) -> None:
        if self._browser is not None:
            await self._stop(self._browser)
        if self._playwright is not None:
            with contextlib.suppress(Exception):
                await self._playwright.stop()
        self._jail.close()

    @contextlib.asynccontextmanager
    async def tab(self, kind: TabKind) -> AsyncIterator[Tab]:
        """Lend a fresh tab for one reading; with the end of it all that the page made goes: its
        windows, its storage, its files. A browser that died is started again."""
        async with self._free:
            browser, tab = await self._new_tab(kind)
            try:
                yield tab
            finally:
                if not await tab.close():
                    await self._stop(browser)

    async def _new_tab(self, kind: TabKind) -> tuple[Browser, Tab]:
        for attempt in (1, 2, 3):
            browser: Browser | None = None
            try:
                async with asyncio.timeout(_START_SECONDS):
                    browser = await self._running_browser()
                async with asyncio.timeout(_OPEN_SECONDS):
                    return browser, await Tab.open(browser, kind)
            except (Error, TimeoutError):
                if browser is not None:
                    await self._stop(browser)
                if attempt == 3:
                    raise Unreadable(
                        "browser-lost", "the browser could not be started again"
                    ) from None
        raise AssertionError("unreachable")

    async def _running_browser(self) -> Browser:
        async with self._starting:
            if self._browser is None or not self._browser.is_connected():
                self._browser = await self._started()
            return self._browser

    async def _started(self) -> Browser:
        assert self._playwright is not None
        own_network = self._jail.kind.has_own_network
        port = PORT if own_network else await self._proxy.listen()
        starting = asyncio.ensure_future(
            self._playwright.chromium.launch(
                executable_path=self._jail.executable,
                chromium_sandbox=self._jail.kind.has_sandbox,
                proxy={"server": f"http://127.0.0.1:{port}", "bypass": "<-loopback>"},
                args=list(_ARGUMENTS),
            )
        )
        if own_network:
            listening = asyncio.ensure_future(self._jail.listener())
            try:
                await asyncio.wait((listening, starting), return_when=asyncio.FIRST_COMPLETED)
                if listening.done() or not starting.done():
                    await self._proxy.listen_on(await listening)
            except BaseException:
                starting.cancel()
                raise
            finally:
                listening.cancel()
        return await starting

    async def _stop(self, browser: Browser) -> None:
        """Stop a browser that does not answer, unless another stands in its place already."""
        if self._browser is browser:
            self._browser = None
        with contextlib.suppress(Exception):
            await asyncio.wait_for(browser.close(), _CLOSE_SECONDS)


@dataclass(frozen=True, slots=True)
class TabKind:
    """What a tab is to be: its viewport (width, height in CSS px; None is that of a screen),
    whether it may ask the network for anything, and the files that it shares with others."""

    viewport: tuple[int, int] | None = None
    has_network: bool = True
    shared: SharedFiles | None = None


class Tab:
    """One tab in a context of its own. A page's HTML is handed to it; only what the page asks for
    goes over the network."""

    def __init__(
        self,
        context: BrowserContext,
        page: Page,
        session: CDPSession,
        size: tuple[int, int],
        shared: SharedFiles | None,
    ) -> None:
        self._context = context
        self.page = page
        self._session = session
        self._given: Fetched | None = None
        self._html = b""
        self._awaited = False
        self._sent_to: asyncio.Future[str] = asyncio.get_running_loop().create_future()
        self._open_to = ""
        self._size = size
        self._shared = shared
        self.travelled_to: Fetched | None = None
        self.drawn_in: dict[str, str] = {}
        """The hashes of style sheets and scripts that the page drew in, by address; ``""`` where
        others may get other files there."""
        self._main_frame = ""
        self._pending: set[asyncio.Task[None]] = set()
        self._lost: asyncio.Future[None] = asyncio.get_running_loop().create_future()
        page.on("crash", self._on_crash)

    @classmethod
    async def open(cls, browser: Browser, kind: TabKind) -> Tab:
        """Return a fresh tab: no storage, no downloads, no service workers, no windows beside it,
        reduced motion."""
        width, height = kind.viewport or _VIEWPORT
        context = await browser.new_context(
            viewport={"width": width, "height": height},
            user_agent=USER_AGENT,
            accept_downloads=False,
            service_workers="block",
            reduced_motion="reduce",
            ignore_https_errors=False,
            proxy=None if kind.has_network else _NOWHERE,
        )
        try:
            await context.add_init_script(script("listeners.js"))
            page = await context.new_page()
            session = await context.new_cdp_session(page)
            tab = cls(context, page, session, (width, height), kind.shared)
            await _move_from_pointer(session)
            tab._main_frame = (await session.send("Page.getFrameTree"))["frameTree"]["frame"]["id"]
            # without it no file of the page can be asked for
            await session.send("Page.enable")
            session.on("Fetch.requestPaused", tab._on_request)
        except BaseException:
            with contextlib.suppress(Exception):
                await context.close()
            raise
        return tab

    def _on_crash(self, _: Page) -> None:
        if not self._lost.done():
            self._lost.set_result(None)

    def _on_request(self, event: dict[str, Any]) -> None:
        task = asyncio.ensure_future(self._answer(event))
        self._pending.add(task)
        task.add_done_callback(self._pending.discard)

    async def _answer(self, event: dict[str, Any]) -> None:
        """Hand over the fetched HTML, let frames load, and stop the page from sending the tab
        elsewhere."""
        request = {"requestId": event["requestId"]}
        in_main_frame = event.get("frameId") == self._main_frame
        with contextlib.suppress(Error):
            if in_main_frame and self._awaited and self._given is not None:
                self._awaited = False
                await self._session.send(
                    "Fetch.fulfillRequest", {**request, **_response(self._given, self._html)}
                )
            elif (
                self._given is not None
                and self._given.files is not None
                and not (in_main_frame and event["resourceType"] == "Document")
            ):
                await self._answer_from(self._given.files, event)
            elif (
                in_main_frame
                and event["resourceType"] == "Document"
                and self._open_to == origin(event["request"]["url"])
            ):
                await self._let_travel(event)
            elif in_main_frame and event["resourceType"] == "Document":
                if not self._sent_to.done():
                    self._sent_to.set_result(str(event["request"]["url"]))
                await self._session.send("Fetch.failRequest", {**request, "errorReason": "Aborted"})
            elif self._shared is not None and event["resourceType"] in _SHARED_KINDS:
                await self._answer_shared(self._shared, event)
            else:
                await self._session.send("Fetch.continueRequest", request)

    async def _answer_shared(self, shared: SharedFiles, event: dict[str, Any]) -> None:
        """Answer with a file that another page of the sweep drew in, or let it be fetched and keep
        it."""
        request = {"requestId": event["requestId"]}
        kind, address = event["resourceType"], str(event["request"]["url"])
        stored = shared.file(kind, address)
        if kind in _CODE:
            self.drawn_in[address] = stored.content_hash if stored is not None else ""
        if stored is not None:
            given = {"responseHeaders": list(stored.headers), "body": stored.body}
            await self._session.send(
                "Fetch.fulfillRequest", {**request, "responseCode": 200, **given}
            )
            return
        status = event.get("responseStatusCode")
        if status is None:
            wanted = event["request"]["method"] == "GET"
            await self._session.send(
                "Fetch.continueRequest", {**request, "interceptResponse": wanted}
            )
            return
        headers = event.get("responseHeaders", [])
        if may_be_shared(status, {one["name"].lower(): one["value"] for one in headers}):
            answer = await self._session.send("Fetch.getResponseBody", request)
            body: str = answer["body"]
            if not answer["base64Encoded"]:
                body = base64.b64encode(body.encode()).decode("ascii")
            plain = (one for one in headers if one["name"].lower() not in _OF_THE_WAY)
            kept = StoredFile(tuple(plain), body)
            shared.keep(kind, address, kept)
            if kind in _CODE:
                self.drawn_in[address] = kept.content_hash
        await self._session.send("Fetch.continueRequest", request)

    async def _let_travel(self, event: dict[str, Any]) -> None:
        """Let a journey lead the tab on, and keep the HTML that comes (a sent form's answer can be
        had at no other moment)."""
        request = {"requestId": event["requestId"]}
        status = event.get("responseStatusCode")
        if status is None:
            await self._session.send(
                "Fetch.continueRequest", {**request, "interceptResponse": True}
            )
            return
        if not 300 <= status < 400:
            headers = {
                one["name"].lower(): one["value"] for one in event.get("responseHeaders", [])
            }
            answer = await self._session.send("Fetch.getResponseBody", request)
            body = (
                base64.b64decode(answer["body"])
                if answer["base64Encoded"]
                else answer["body"].encode()
            )
            self.travelled_to = Fetched(event["request"]["url"], status, headers, body)
        await self._session.send("Fetch.continueRequest", request)

    async def _answer_from(self, files: LocalFiles, event: dict[str, Any]) -> None:
        """Answer a request from the files that lie beside the page; what they leave is the
        network's."""
        request = {"requestId": event["requestId"]}
        found = await asyncio.to_thread(files, str(event["request"]["url"]))
        if found is None:
            await self._session.send("Fetch.continueRequest", request)
            return
        status, kind, body = found
        headers = [
            {"name": "content-type", "value": kind},
            {"name": "access-control-allow-origin", "value": "*"},
        ]
        answer = {
            "responseCode": status,
            "responseHeaders": headers,
            "body": base64.b64encode(body).decode("ascii"),
        }
        await self._session.send("Fetch.fulfillRequest", {**request, **answer})

    async def load(self, fetched: Fetched, html: bytes, seconds: float) -> None:
        """Load a page's HTML, in UTF-8, at its address and let it settle. Raises ``Unreadable``."""
        kinds = ["Document", *(_SHARED_KINDS if self._shared is not None else ())]
        of_kinds = [{"resourceType": kind} for kind in kinds] if fetched.files is None else [{}]
        patterns = [{"urlPattern": "*", "requestStage": "Request", **one} for one in of_kinds]
        await self._session.send("Fetch.enable", {"patterns": patterns})
        self.travelled_to = None
        self._html = html
        self._given, self._awaited, self._sent_to = (
            fetched,
            True,
            asyncio.get_running_loop().create_future(),
        )
        going = asyncio.ensure_future(
            self.page.goto(fetched.address, wait_until="domcontentloaded", timeout=seconds * 1000)
        )
        either: list[asyncio.Future[Any]] = [going, self._sent_to]
        await asyncio.wait(either, return_when=asyncio.FIRST_COMPLETED)
        if not going.done():
            going.cancel()
            raise Unreadable(
                "leads-elsewhere",
                f"the page sends the browser to {self._sent_to.result()[:200]} by itself",
            )
        try:
            await going
            with contextlib.suppress(Error):
                await self.page.wait_for_load_state(
                    "load", timeout=min(seconds, _SETTLE_SECONDS) * 1000
                )
        except Error as error:
            raise _load_problem(error, seconds) from None

    async def unless_lost(self, work: Coroutine[Any, Any, Learnt]) -> Learnt:
        """Return what comes of work in this tab. Raises ``Unreadable`` (browser-lost) as soon as
        the page's process dies: the browser answers none of the questions that are open then."""
        task = asyncio.ensure_future(work)
        try:
            await asyncio.wait((task, self._lost), return_when=asyncio.FIRST_COMPLETED)
            if not self._lost.done():
                learnt = await task
                # what fails for a dead page's sake is passed over while it is read
                with contextlib.suppress(TimeoutError):  # a page that is busy is not dead
                    await asyncio.wait_for(self.page.evaluate("0"), _CLOSE_SECONDS)
                return learnt
        except Error:
            raise Unreadable("browser-lost", "the browser does not answer any more") from None
        finally:
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError, Exception):
                await task
        raise Unreadable("browser-lost", "the page's process in the browser died")

    @property
    def width(self) -> int:
        """The width of the tab's own viewport, in CSS px."""
        return self._size[0]

    @contextlib.contextmanager
    def open_to(self, home: str) -> Iterator[None]:
        """Let the tab be led to other pages of an origin for a while; the network stays behind the
        guard."""
        self._open_to = home
        try:
            yield
        finally:
            self._open_to = ""

    @property
    def sent_to(self) -> str | None:
        """Where the page wanted to send the tab and might not, or None."""
        return (
            self._sent_to.result()
            if self._sent_to.done() and not self._sent_to.cancelled()
            else None
        )

    async def wait_for(self, selector: str, seconds: float) -> None:
        """Wait until an element is there. Raises ``Unreadable`` (timed-out)."""
        try:
            await self.page.wait_for_selector(selector, state="attached", timeout=seconds * 1000)
        except Error as error:
            if "Timeout" in str(error):
                raise Unreadable(
                    "timed-out", f"'{selector}' did not appear within {seconds:g} s"
                ) from None
            raise Unreadable("browser-lost", str(error).splitlines()[0]) from None

    async def collect(self, seconds: float, most_elements: int) -> str:
        """Return the collector's answer. Raises ``Unreadable``."""
        try:
            return str(
                await asyncio.wait_for(
                    self.page.evaluate(*collecting(most_elements)),
                    seconds,
                )
            )
        except TimeoutError:
            raise Unreadable(
                "script-endless", f"the page was still busy with its scripts after {seconds:g} s"
            ) from None
        except Error as error:
            raise _load_problem(error, seconds) from None

    async def run(self, name: str, given: Any) -> Any:
        """Return what a script of ours gives in the page."""
        return await self.page.evaluate(script(name), given)

    async def send(self, method: str, parameters: dict[str, Any]) -> dict[str, Any]:
        """Send a command of the DevTools protocol."""
        answer: dict[str, Any] = await self._session.send(method, parameters)
        return answer

    async def resource(self, address: str) -> dict[str, Any]:
        """Return a file that the page has loaded, as the protocol gives it: ``content`` and whether
        it is ``base64Encoded``."""
        return await self.send(
            "Page.getResourceContent", {"frameId": self._main_frame, "url": address}
        )

    async def set_size(self, width: int | None, height: int | None) -> None:
        """Lay the page out in another viewport, or in its own one again."""
        size = {"width": width or self._size[0], "height": height or self._size[1]}
        await self.send(
            "Emulation.setDeviceMetricsOverride", {**size, "deviceScaleFactor": 1, "mobile": False}
        )

    async def press(self, key: str, times: int) -> None:
        """Press a key: ``Tab``, ``Shift+Tab`` or ``Escape``."""
        name = key.removeprefix("Shift+")
        code = {"Tab": 9, "Escape": 27}[name]
        event = {
            "key": name,
            "code": name,
            "windowsVirtualKeyCode": code,
            "modifiers": 8 if key.startswith("Shift+") else 0,
        }
        kinds = ("rawKeyDown", "keyUp")
        await asyncio.gather(
            *(
                self.send("Input.dispatchKeyEvent", {"type": kind, **event})
                for _ in range(times)
                for kind in kinds
            )
        )

    async def picture(self, seconds: float, most_height: int) -> bytes | None:
        """Return the whole page as JPEG (down to ``most_height`` CSS px), or None where the browser
        does not manage it in time."""
        size = (
            "() => [Math.max(document.documentElement.scrollWidth, innerWidth), "
            "document.documentElement.scrollHeight]"
        )
        try:
            async with asyncio.timeout(seconds):
                width, height = await self.page.evaluate(size)
                clip = {
                    "x": 0,
                    "y": 0,
                    "width": min(width, 2560),
                    "height": max(1, min(height, most_height)),
                    "scale": 1,
                }
                wanted = {
                    "format": "jpeg",
                    "quality": 55,
                    "optimizeForSpeed": True,
                    "clip": clip,
                    "captureBeyondViewport": True,
                }
                answer = await self._session.send("Page.captureScreenshot", wanted)
        except (TimeoutError, Error):
            return None
        return base64.b64decode(answer["data"])

    async def close(self) -> bool:
        """Close the tab and whatever its page opened; False where the browser does not answer any
        more."""
        try:
            await asyncio.wait_for(self._context.close(), _CLOSE_SECONDS)
        except (TimeoutError, Error):
            return False
        return True


async def _move_from_pointer(session: CDPSession) -> None:
    """Put a tab's window elsewhere than in the corner of the screen: there stands the pointer of a
    browser without a screen, and what lies under it would be hovered."""
    window = await session.send("Browser.getWindowForTarget")
    bounds = {"windowId": window["windowId"], "bounds": {"left": 100, "top": 100}}
    await session.send("Browser.setWindowBounds", bounds)


_PASSED_ON = ("content-language", "content-security-policy", "referrer-policy", "x-frame-options")


def _response(fetched: Fetched, html: bytes) -> dict[str, Any]:
    """Return the answer for the browser."""
    headers = [
        {"name": name, "value": value}
        for name, value in fetched.headers.items()
        if name in _PASSED_ON
    ]
    headers.append({"name": "content-type", "value": "text/html; charset=utf-8"})
    return {
        "responseCode": 200,
        "responseHeaders": headers,
        "body": base64.b64encode(html).decode("ascii"),
    }


def _load_problem(error: Error, seconds: float) -> Unreadable:
    text = str(error).splitlines()[0]
    if "Timeout" in text:
        return Unreadable("script-endless", f"the page was still busy after {seconds:g} s")
    if (
        "ERR_ABORTED" in text
        or "interrupted" in text
        or "navigat" in text.lower()
        or "context was destroyed" in text
    ):
        return Unreadable("leads-elsewhere")
    return Unreadable("browser-lost", f"the browser lost the page: {text}")
