"""Make ``docs/data.md`` from the database: every table in one line, and how they hang together.

A database server of its own is started for that; the shape is what the migrations make.
"""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path

import psycopg

from plumrake.demo.cluster import Cluster
from plumrake.records.migrate import migrate

TARGET = Path(__file__).parent.parent / "docs/data.md"
HEAD = """# The data

What the service keeps, in PostgreSQL. Made by `scripts/make_data_page.py` from the database that
the migrations make: do not edit; a test holds it current. The shape is
`src/plumrake/records/migrations/`, the queries are the `.sql` files beside it. The queue's own
tables (`procrastinate_…`) and the list of migrations (`_yoyo_…`) are left out.

"""
TABLES = """
SELECT c.relname, obj_description(c.oid)
FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
WHERE n.nspname = 'public' AND c.relkind IN ('r', 'p')
    AND c.relname NOT LIKE 'procrastinate%' AND c.relname NOT LIKE '%yoyo%'
ORDER BY c.relname
"""
KEYS = """
SELECT t.relname, r.relname, string_agg(a.attname, ', ' ORDER BY a.attname)
FROM pg_constraint k
JOIN pg_class t ON t.oid = k.conrelid
JOIN pg_class r ON r.oid = k.confrelid
JOIN pg_attribute a ON a.attrelid = k.conrelid AND a.attnum = ANY (k.conkey)
WHERE k.contype = 'f' AND k.conparentid = 0 AND t.relname NOT LIKE 'procrastinate%'
GROUP BY t.relname, r.relname
ORDER BY r.relname, t.relname
"""


def data_page(connection: psycopg.Connection) -> str:
    """Return the page for the database of a connection."""
    rows = connection.execute(TABLES).fetchall()
    lines = [f"| `{name}` | {says or ''} |" for name, says in rows]
    keys = connection.execute(KEYS).fetchall()
    links = [
        f'    {of} ||--o{{ {table} : "{columns}"' for table, of, columns in keys if table != of
    ]
    return (
        f"{HEAD}| table | holds |\n|---|---|\n"
        + "\n".join(lines)
        + "\n\n## How they hang together\n\nA line leads from a table to those whose rows belong "
        "to one of its rows, by the columns named.\n\n```mermaid\nerDiagram\n"
        + "\n".join(links)
        + "\n```\n"
    )


def main() -> None:
    """Write the page."""
    folder = Path(tempfile.mkdtemp(prefix="plr-data-"))
    cluster = Cluster(folder)
    cluster.start()
    try:
        address = f"{cluster.address.rpartition('/')[0]}/data"
        with psycopg.connect(cluster.address, autocommit=True) as connection:
            connection.execute("CREATE DATABASE data")
        migrate(address)
        with psycopg.connect(address) as connection:
            TARGET.write_text(data_page(connection), encoding="utf-8")
    finally:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
