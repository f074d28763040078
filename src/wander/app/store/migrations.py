"""From any older database to the present one. Each migration holds its own frozen SQL; none is ever changed once it has landed."""

from __future__ import annotations

from collections.abc import Callable

from peewee import SqliteDatabase


def _first_tables(database: SqliteDatabase) -> None:
    database.execute_sql(
        "CREATE TABLE design (id VARCHAR(16) NOT NULL PRIMARY KEY, name VARCHAR(80) NOT NULL, created REAL NOT NULL, "
        "changed REAL NOT NULL, head INTEGER NOT NULL, shown TEXT NOT NULL)"
    )
    database.execute_sql("CREATE INDEX design_changed ON design (changed)")
    database.execute_sql(
        "CREATE TABLE revision (design_id VARCHAR(16) NOT NULL REFERENCES design (id) ON DELETE CASCADE, number INTEGER NOT NULL, "
        "parent INTEGER, created REAL NOT NULL, document BLOB NOT NULL, PRIMARY KEY (design_id, number))"
    )


def _named_versions(database: SqliteDatabase) -> None:
    database.execute_sql(
        "CREATE TABLE version (id INTEGER NOT NULL PRIMARY KEY, design_id VARCHAR(16) NOT NULL REFERENCES design (id) ON DELETE CASCADE, "
        "number INTEGER NOT NULL, name VARCHAR(80) NOT NULL, created REAL NOT NULL)"
    )
    database.execute_sql("CREATE INDEX version_design ON version (design_id)")


def _profiles(database: SqliteDatabase) -> None:
    database.execute_sql(
        "CREATE TABLE profile (id INTEGER NOT NULL PRIMARY KEY, name VARCHAR(80) NOT NULL UNIQUE, created REAL NOT NULL, drawing BLOB NOT NULL)"
    )


def _pictures(database: SqliteDatabase) -> None:
    database.execute_sql("CREATE TABLE picture (key VARCHAR(32) NOT NULL PRIMARY KEY, created REAL NOT NULL, data BLOB NOT NULL)")


def _marks(database: SqliteDatabase) -> None:
    database.execute_sql("ALTER TABLE revision ADD COLUMN mark VARCHAR(40) NOT NULL DEFAULT ''")


def _words(database: SqliteDatabase) -> None:
    database.execute_sql("ALTER TABLE revision ADD COLUMN words VARCHAR(80) NOT NULL DEFAULT 'the last change'")


def _part_files(database: SqliteDatabase) -> None:
    database.execute_sql("CREATE TABLE part_file (key VARCHAR(32) NOT NULL PRIMARY KEY, created REAL NOT NULL, data BLOB NOT NULL)")


MIGRATIONS: list[Callable[[SqliteDatabase], None]] = [_first_tables, _named_versions, _profiles, _pictures, _marks, _words, _part_files]


class NewerDatabase(RuntimeError):
    """The database was written by a newer Wander than this one."""


def migrate(database: SqliteDatabase) -> None:
    """Bring the database up to date, one transaction for each step. Raises NewerDatabase."""
    version = database.execute_sql("PRAGMA user_version").fetchone()[0]
    if version > len(MIGRATIONS):
        raise NewerDatabase(f"the database is of version {version}, this program knows up to {len(MIGRATIONS)}: use a newer Wander")
    for number, step in enumerate(MIGRATIONS[version:], start=version + 1):
        with database.atomic("IMMEDIATE"):
            step(database)
            database.execute_sql(f"PRAGMA user_version = {number}")
