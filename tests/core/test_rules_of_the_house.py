"""What keeps the code as it should be: sizes, the catalogue's refusals, policies, documents that
exist."""

import ast
import re
import subprocess
import sys
from pathlib import Path

import pytest

from plumrake.core.policy import BadPolicy, Policy, policy_from
from plumrake.core.registry import BadCheck, catalogue, parse_help

ROOT = Path(__file__).parents[2]
SOURCES = sorted((ROOT / "src/plumrake").rglob("*.py"))
LONGEST_FUNCTION, LONGEST_CORE_FILE = 60, 400


def test_functions_are_short() -> None:
    """No function over 60 lines."""
    long = [
        f"{file.relative_to(ROOT)}: {node.name}"
        for file in SOURCES
        for node in ast.walk(ast.parse(file.read_text()))
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef)
        and (node.end_lineno or 0) - node.lineno >= LONGEST_FUNCTION
    ]
    assert long == []


def test_core_files_are_short() -> None:
    """No core file over 400 lines; no component of the console over 300."""
    core = [file for file in SOURCES if "core" in file.relative_to(ROOT).parts]
    assert [
        file.name for file in core if len(file.read_text().splitlines()) > LONGEST_CORE_FILE
    ] == []
    components = (ROOT / "console/src").rglob("*.vue")
    assert [file.name for file in components if len(file.read_text().splitlines()) > 300] == []


def test_commands_load_the_demo_only_when_it_is_asked_for() -> None:
    """No module of the command line imports it on its own being imported."""
    loading = [
        file.name
        for file in SOURCES
        if file.parent.name == "cli"
        for node in ast.parse(file.read_text()).body
        if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("plumrake.demo")
    ]
    assert loading == []


@pytest.mark.parametrize(
    "docstring",
    [
        "",
        "A title without a stop",
        "A title.\n\nNo sections.",
        "A title.\n\n## Wrong\n\n    x\n\n## Right\n\n    y\n",
    ],
)
def test_check_without_its_help_is_refused(docstring: str) -> None:
    """A help page lacking its title or a section does not load."""
    with pytest.raises(BadCheck):
        parse_help("links/x", docstring)


@pytest.mark.parametrize(
    ("fields", "named"),
    [
        ({"standard": "wcag3"}, "wcag3"),
        ({"level": "b"}, "level"),
        ({"only": ("colours",)}, "colours"),
        ({"without": ("links/colour",)}, "links/colour"),
        ({"parameters": {"links/colour": {}}}, "links/colour"),
        ({"parameters": {"links/vague": {"most": 3}}}, "most"),
    ],
)
def test_bad_policy_is_refused(fields: dict[str, object], named: str) -> None:
    """The error names the field and what stands in it."""
    with pytest.raises(BadPolicy, match=named):
        policy_from(fields)


def test_checks_outside_the_target_are_off() -> None:
    """At level A contrast (AA) is not asked for; findings name only criteria of the target."""
    contrast = catalogue()["contrast/text"]
    assert not Policy(level="a").applies(contrast)
    assert Policy(level="aa").within_target(contrast) == ("1.4.3",)
    assert Policy(level="aaa").within_target(contrast) == ("1.4.3", "1.4.6")


def test_every_setting_and_command_is_documented() -> None:
    """Settings and commands stand in the docs."""
    from plumrake.cli.main import COMMANDS
    from plumrake.settings import Settings

    text = "\n".join(
        file.read_text() for file in [ROOT / "README.md", *(ROOT / "docs").rglob("*.md")]
    )
    assert [name for name in Settings.model_fields if f"PLUMRAKE_{name.upper()}" not in text] == []
    assert [name for name in COMMANDS if not re.search(rf"plumrake {name}\b", text)] == []


@pytest.mark.parametrize("module", ["plumrake.service.app", "plumrake.cli.look"])
def test_what_reads_nothing_yet_loads_no_browser(module: str) -> None:
    """The browser's library and the model of languages are loaded where they are used, so that the
    service and small commands start at once."""
    asked = f"import sys, {module}; print({{'playwright', 'numpy'}} & set(sys.modules))"
    done = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True)
    assert done.stdout == "set()\n"


def test_pictures_of_the_readme_exist() -> None:
    """Every picture that the README shows is there, and there are under 20."""
    shown = re.findall(r"docs/screenshots/[\w-]+\.png", (ROOT / "README.md").read_text())
    assert shown
    assert [place for place in shown if not (ROOT / place).is_file()] == []
    assert len(list((ROOT / "docs/screenshots").iterdir())) < 20


OWN_FILES = {"table", "script", "kind_of", "_read", "_stems", "_installed"}
"""Remembered for ever by the name of a file of ours, or of this machine."""


def test_what_strangers_write_is_remembered_within_bounds() -> None:
    """Where pages are judged, nothing is remembered for ever by what a page says."""
    judging = [
        file
        for file in SOURCES
        if {"core", "lenses", "spelling"} & set(file.relative_to(ROOT).parts)
    ]
    endless = [
        f"{file.relative_to(ROOT)}: {node.name}"
        for file in judging
        for node in ast.walk(ast.parse(file.read_text()))
        if isinstance(node, ast.FunctionDef)
        and any(isinstance(one, ast.Name) and one.id == "cache" for one in node.decorator_list)
        and node.args.args
        and node.name not in OWN_FILES
    ]
    assert endless == []
