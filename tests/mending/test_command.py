"""``plumrake mend`` in a real terminal: what is asked, what is written, and what is not."""

import os
import re
import signal
import stat
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pexpect
import pytest

PAGE = """<!DOCTYPE html>\r
<HTML lang=en><title>Locks</title><main><h1>Locks of the canal</h1>\r
<p><IMG src=a.jpg> The keeper opens at nine.\r
<h3>Hallow Lock</h3><p>It has two <a href="/x">click here</a> gates. {{ name }}\r
</main>\r
"""
GUIDE = "# Boats\n\nText ![boat.jpg](boat.jpg) here.\n\n#### Fees\n\nThey are [here](/fees).\n"
Ask = Callable[..., "Terminal"]


def _as_in_a_shell() -> None:
    """Let Ctrl-C be heard: what is started in the background of a script is told to ignore it, and
    so is all that it starts."""
    signal.signal(signal.SIGINT, signal.SIG_DFL)


class Terminal:
    """A command that asks, in a pseudo-terminal of its own."""

    def __init__(self, folder: Path, *words: str) -> None:
        command = ["-m", "plumrake", "mend", "--lens", "markup", *words]
        self.child = pexpect.spawn(
            sys.executable,
            command,
            cwd=folder,
            encoding="utf-8",
            timeout=60,
            dimensions=(50, 160),
            preexec_fn=_as_in_a_shell,
        )

    def question(self) -> str:
        """Return what was said up to the next question about a finding."""
        self.child.expect(r"  > $")
        return str(self.child.before)

    def answer(self, *answers: str) -> None:
        """Type answers, each when it is asked for."""
        for number, answer in enumerate(answers):
            if number:
                self.child.expect(r"(text|address): $|\[y/N\]: ?$")
            self.child.sendline(answer)

    def end(self) -> str:
        """Return what was said to the end."""
        self.child.expect(pexpect.EOF)
        self.child.close()
        return str(self.child.before)

    def interrupted(self) -> str:
        """Interrupt a question, and again where that came just before its answer was waited for;
        return what was said to the end."""
        for _ in range(10):
            self.child.sendintr()
            if self.child.expect([pexpect.EOF, pexpect.TIMEOUT], timeout=6) == 0:
                break
        self.child.close()
        return str(self.child.before)


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """Two pages, one of them in capitals with CR LF, and a guide in Markdown of its own."""
    (tmp_path / "site").mkdir()
    (tmp_path / "site/locks.html").write_bytes(PAGE.encode())
    (tmp_path / "site/guide.md").write_text(GUIDE)
    (tmp_path / "site/fine.html").write_text(
        '<!doctype html><html lang="en"><title>Fine</title><main><h1>Fine</h1><p><img '
        'src="a.jpg" alt="A lock in the snow"> All is well.</p></main>'
    )
    return tmp_path / "site"


def plain(folder: Path, *words: str) -> subprocess.CompletedProcess[str]:
    """Run the command without a terminal."""
    return subprocess.run(
        [sys.executable, "-m", "plumrake", "mend", "--lens", "markup", *words],
        cwd=folder,
        capture_output=True,
        text=True,
        check=False,
        timeout=120,
    )


def test_one_finding_after_the_other(folder: Path) -> None:
    """The worst first, each with its place and what may be done; what is mended is written at the
    end, every other byte as before, with the file's permissions."""
    (folder / "locks.html").chmod(0o640)
    terminal = Terminal(folder, ".")
    asked = terminal.question()
    assert "barrier · pictures/no-text · locks.html:3" in asked
    assert "Write “A lock in the snow” (its text on 1 other page)." in asked
    terminal.answer(re.findall(r"(\d+)  Write “A lock", asked)[0])
    asked = terminal.question()
    assert "links/vague · locks.html:4" in asked or "headings/level-jump · locks.html:4" in asked
    while "links/vague" not in asked:
        terminal.answer("1")
        asked = terminal.question()
    terminal.answer("1", "paddles on all")
    said = terminal.end()
    assert "written: locks.html (3 mends)" in said
    assert "left: 0 faults" in said
    changed = PAGE.replace("src=a.jpg>", 'src=a.jpg ALT="A lock in the snow">')
    changed = changed.replace("<h3>Hallow Lock</h3>", "<h2>Hallow Lock</h2>")
    assert (folder / "locks.html").read_bytes() == changed.replace(
        "click here", "paddles on all"
    ).encode()
    assert stat.S_IMODE((folder / "locks.html").stat().st_mode) == 0o640


def test_markdown_is_mended_as_markdown(folder: Path) -> None:
    """As a part of a page: nothing is asked of the page as a whole."""
    terminal = Terminal(folder, "guide.md")
    asked = terminal.question()
    assert "pictures/file-name-text · guide.md:3" in asked
    terminal.answer("1", "A narrow boat")
    asked = terminal.question()
    while "links/vague" not in asked:
        assert "headings/level-jump · guide.md:5" in asked
        terminal.answer("1")
        asked = terminal.question()
    terminal.answer("1", "on the page of fees")
    assert "written: guide.md (3 mends)" in terminal.end()
    assert (folder / "guide.md").read_text() == (
        "# Boats\n\nText ![A narrow boat](boat.jpg) here.\n\n## Fees\n\n"
        "They are [on the page of fees](/fees).\n"
    )


def test_back_skip_and_stop(folder: Path) -> None:
    """What is taken back is asked again and not written; what is skipped is not asked again; an
    interrupt writes what was answered."""
    terminal = Terminal(folder, "locks.html")
    terminal.question()
    terminal.answer("1", "A lock")
    terminal.question()
    terminal.answer("b")
    assert "pictures/no-text" in terminal.question()
    terminal.answer("s")
    asked = terminal.question()
    assert "pictures/no-text" not in asked
    terminal.answer("?")
    assert terminal.question().strip()
    terminal.answer("k" if "links/vague" in asked else "1")
    asked = terminal.question()
    if "level-jump" in asked:
        terminal.answer("1")  # the last one: nothing is left to ask about
        said = terminal.end()
    else:
        said = terminal.interrupted()
    assert "written: locks.html (1 mend)" in said
    text = (folder / "locks.html").read_text()
    assert "<h2>Hallow Lock</h2>" in text
    assert "ALT" not in text


def test_what_brings_another_fault_is_refused(folder: Path) -> None:
    """It says what would come, and asks once more."""
    (folder / "two.html").write_text(PAGE.replace("src=a.jpg", "src=a.jpg alt=Gate"))
    terminal = Terminal(folder, "two.html", "--only", "links")
    terminal.question()
    terminal.answer("2", "Other words than those that are seen")
    terminal.child.expect(r"Refused: it would bring another fault: .*\[y/N\]: ?$")
    terminal.answer("n")
    terminal.question()
    terminal.answer("q")
    assert "0 mended in 0 files" in terminal.end()


def test_without_a_terminal(folder: Path) -> None:
    """Nothing can be asked: only what needs no judgement is mended, and listed."""
    refused = plain(folder, "locks.html")
    assert refused.returncode == 2
    assert "--take sure" in refused.stderr
    before = (folder / "locks.html").read_bytes()
    done = plain(folder, "locks.html", "--take", "sure", "--diff")
    assert done.returncode == 1  # the picture has no text yet
    assert "-<h3>Hallow Lock</h3>" in done.stdout
    assert "+<h2>Hallow Lock</h2>" in done.stdout
    assert (folder / "locks.html").read_bytes() == before
    dry = plain(folder, "locks.html", "--take", "sure", "--dry")
    assert "would be written: locks.html (1 mend)" in dry.stdout
    assert (folder / "locks.html").read_bytes() == before
    assert "written: locks.html (1 mend)" in plain(folder, "locks.html", "--take", "sure").stdout


def test_a_diff_can_be_applied(folder: Path) -> None:
    """By ``patch``, byte for byte: line ends and a missing last one included."""
    (folder / "locks.html").write_bytes(PAGE.rstrip().encode())
    words = ["mend", "--lens", "markup", "locks.html", "--take", "sure", "--diff"]
    done = subprocess.run(
        [sys.executable, "-m", "plumrake", *words], cwd=folder, capture_output=True, check=False
    )
    subprocess.run(["git", "init", "-q", "."], cwd=folder, check=True)
    subprocess.run(["git", "apply", "-"], cwd=folder, input=done.stdout, check=True)
    assert b"<h2>Hallow Lock</h2>" in (folder / "locks.html").read_bytes()


def test_a_file_that_changed_meanwhile(folder: Path) -> None:
    """It is left as it is; the mends are kept beside it."""
    terminal = Terminal(folder, "locks.html")
    terminal.question()
    terminal.answer("1", "A lock")
    terminal.question()
    (folder / "locks.html").write_text("<p>Somebody else was here.")
    terminal.answer("q")
    said = terminal.end()
    assert "it was changed meanwhile; nothing was written to it" in said
    assert terminal.child.exitstatus == 3
    assert (folder / "locks.html").read_text() == "<p>Somebody else was here."
    assert '+<p><IMG src=a.jpg ALT="A lock">' in (folder / "locks.html.mends.diff").read_text()


@pytest.mark.skipif(os.geteuid() != 0, reason="root writes to everything; tried by another user")
def test_a_file_that_cannot_be_written(folder: Path) -> None:
    """One line says so, and nothing is lost."""
    subprocess.run(["chattr", "+i", folder / "locks.html"], check=False)
    done = plain(folder, "locks.html", "--take", "sure")
    subprocess.run(["chattr", "-i", folder / "locks.html"], check=False)
    if "written:" in done.stdout:
        pytest.skip("this file system has no attribute that holds root off")
    assert "cannot be written" in done.stderr
    assert done.returncode == 3


def test_what_an_encoding_lacks_is_asked(folder: Path) -> None:
    """A character reference is offered."""
    page = PAGE.replace("<HTML lang=en>", "<HTML lang=en><meta charset=windows-1252>")
    (folder / "locks.html").write_bytes(page.encode("windows-1252"))
    terminal = Terminal(folder, "locks.html")
    terminal.question()
    terminal.answer("1", "Gate of Ďatec", "y")
    terminal.question()
    terminal.answer("q")
    assert "written: locks.html (1 mend)" in terminal.end()
    assert b'ALT="Gate of &#270;atec"' in (folder / "locks.html").read_bytes()


def test_a_link_out_of_the_folder_is_not_followed(folder: Path) -> None:
    """What it leads to is not read, and not written."""
    outside = folder.parent / "outside.html"
    outside.write_text(PAGE)
    (folder / "linked.html").symlink_to(outside)
    done = plain(folder, ".", "--take", "sure")
    assert "leads out of the folder" in done.stderr
    assert done.returncode == 3
    assert "written: locks.html" in done.stdout
    assert outside.read_text() == PAGE.replace("\r\n", "\n")


def test_what_is_no_file(folder: Path) -> None:
    """One line each, and a status of its own."""
    done = plain(folder, "http://127.0.0.1:9/", "gone.html", "--take", "sure")
    assert done.returncode == 3
    assert "only files on this machine can be mended here" in done.stderr
    assert "there is no file or folder 'gone.html'" in done.stderr
