"""How parts of the service that run for years are connected to their database: whatever happens on
the way between them, neither waits for the other for ever."""

from __future__ import annotations

from psycopg.conninfo import conninfo_to_dict, make_conninfo

_IDLE_SECONDS, _BETWEEN_SECONDS, _TIMES = 10, 5, 3
_GONE_SECONDS = _IDLE_SECONDS + _BETWEEN_SECONDS * _TIMES
"""After so long without a sign of life the other side of a connection is gone."""

_OURS = {
    "connect_timeout": 10,
    "keepalives": 1,
    "keepalives_idle": _IDLE_SECONDS,
    "keepalives_interval": _BETWEEN_SECONDS,
    "keepalives_count": _TIMES,
    "tcp_user_timeout": _GONE_SECONDS * 1000,
}
_THE_SERVERS = {
    "tcp_keepalives_idle": _IDLE_SECONDS,
    "tcp_keepalives_interval": _BETWEEN_SECONDS,
    "tcp_keepalives_count": _TIMES,
    "tcp_user_timeout": _GONE_SECONDS * 1000,
    "client_connection_check_interval": f"{_IDLE_SECONDS}s",
    "idle_in_transaction_session_timeout": "15min",
    # with a wall before each of many partitions it takes ten seconds to compile what runs for one
    "jit": "off",
}


def lasting(database: str) -> str:
    """Return a database's address with what makes both ends notice within half a minute that the
    other one, or the network between them, is gone: a worker whose host is cut off in mid-sweep
    holds no row against the others. No query is compiled. What the address says itself goes
    before."""
    said = conninfo_to_dict(database)
    options = " ".join(f"-c {name}={value}" for name, value in _THE_SERVERS.items())
    ours = {name: value for name, value in _OURS.items() if name not in said}
    return make_conninfo(database, **ours, options=f"{options} {said.get('options') or ''}".strip())
