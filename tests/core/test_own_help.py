"""The organisation's own help: by check, by area, for all."""

import pytest

from plumrake.core.policy import BadPolicy, OwnHelp, policy_from


def test_the_nearest_line_counts() -> None:
    """A check's own line goes before its area's, that before the one for all."""
    policy = policy_from(
        {
            "own-help": {
                "*": "Ask the web team.",
                "links": "Links are Ruth's: extension 12.",
                "links/vague": "See https://help.example/links, please.",
            }
        }
    )
    assert policy.help_for("tables/no-headers") == OwnHelp("Ask the web team.")
    assert policy.help_for("links/dead") == OwnHelp("Links are Ruth's: extension 12.")
    assert policy.help_for("links/vague") == OwnHelp(
        "See https://help.example/links, please.", "https://help.example/links"
    )


@pytest.mark.parametrize(
    ("line", "says", "link"),
    [
        ("How we do it: https://help.example/a.", "How we do it", "https://help.example/a"),
        ("Read https://help.example/a", "Read", "https://help.example/a"),
        ("https://help.example/a", "https://help.example/a", "https://help.example/a"),
        ("Ask javascript:alert(1)", "Ask javascript:alert(1)", None),
    ],
)
def test_a_web_address_is_told_apart(line: str, says: str, link: str | None) -> None:
    """Only http and https are links."""
    assert policy_from({"own-help": {"*": line}}).help_for("links/vague") == OwnHelp(says, link)


def test_what_is_no_check_is_refused() -> None:
    """A wrong name is told with what there is."""
    with pytest.raises(BadPolicy, match="own-help"):
        policy_from({"own-help": {"links/no-such": "Ask us."}})


def test_no_help_is_none() -> None:
    """Without a line there is nothing beside ours."""
    assert policy_from({}).help_for("links/vague") is None
