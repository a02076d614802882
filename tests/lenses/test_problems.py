"""Pages that cannot be read are results with a problem code, inside the limits, and do not harm the
next page."""

from collections.abc import Iterator

import pytest

from plumrake.lenses.reader import PageReader
from plumrake.net.fetch import Limits
from tests.hostile import PROBLEMS, hostile_server
from tests.services import serve_in_thread


@pytest.fixture(scope="module")
def hostile() -> Iterator[str]:
    server = hostile_server()
    yield serve_in_thread(server)
    server.shutdown()


LIMITS = Limits(seconds=6)


async def test_every_hostile_page_is_a_result(hostile: str) -> None:
    """Each page ends in its problem code or is read, one after the other in one reader; those that
    would never end are given up soon."""
    outcomes = {}
    async with (
        PageReader("rendered", LIMITS, private_origins=[hostile]) as hasty,
        PageReader("rendered", private_origins=[hostile]) as patient,
    ):
        for path, problem in PROBLEMS.items():
            obtained = await (hasty if problem else patient).read_address(hostile + path)
            outcomes[path] = obtained.problem.code if obtained.problem else None
    assert outcomes == PROBLEMS


async def test_a_page_that_leaves_is_said_or_stays(hostile: str) -> None:
    """A script that sends the browser elsewhere never makes another page's content count as this
    page's."""
    async with PageReader("rendered", LIMITS, private_origins=[hostile]) as reader:
        obtained = await reader.read_address(f"{hostile}/sends-away")
    if obtained.document is not None:
        assert any(
            element.tag == "title" and element.text() == "Away"
            for element in obtained.document.elements
        )
    else:
        assert obtained.problem is not None
        assert obtained.problem.code == "leads-elsewhere"


@pytest.mark.parametrize(
    ("address", "code"),
    [
        ("http://no-such-host.invalid/", "host-unknown"),
        ("http://127.0.0.1:1/", "address-refused"),
        ("http://localhost:1/", "address-refused"),
        ("http://[::1]:1/", "address-refused"),
        ("http://[::ffff:127.0.0.1]:1/", "address-refused"),
        ("http://10.0.0.1/", "address-refused"),
        ("http://169.254.169.254/latest/", "address-refused"),
        ("http://0.0.0.0:1/", "address-refused"),
        ("ftp://canal.example/", "bad-address"),
        ("file:///etc/passwd", "bad-address"),
        ("http://", "bad-address"),
        ("http://canal.example:99999/", "bad-address"),
    ],
)
async def test_addresses_that_may_not_be_reached(address: str, code: str) -> None:
    """Private, loopback and odd addresses are refused before any connection is made."""
    async with PageReader("markup", LIMITS) as reader:
        obtained = await reader.read_address(address)
    assert obtained.problem is not None
    assert obtained.problem.code == code
    assert len(obtained.problem.says) > 10


async def test_leave_is_for_the_registered_origin_alone(hostile: str) -> None:
    """A redirect from a registered private origin to another private port is refused."""
    async with PageReader("markup", LIMITS, private_origins=[hostile]) as reader:
        assert (await reader.read_address(f"{hostile}/fine")).problem is None
    async with PageReader("markup", LIMITS, private_origins=["http://127.0.0.1:1"]) as reader:
        problem = (await reader.read_address(f"{hostile}/fine")).problem
    assert problem is not None
    assert problem.code == "address-refused"
