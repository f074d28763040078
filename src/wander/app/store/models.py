"""The tables as they are now. Older shapes live in `migrations`."""

from __future__ import annotations

from peewee import AutoField, BlobField, CharField, CompositeKey, FloatField, ForeignKeyField, IntegerField, Model, SqliteDatabase, TextField

DATABASE = SqliteDatabase(None)
"""Opened by `Store`; one process serves one database."""


class Table(Model):
    class Meta:
        database = DATABASE
        legacy_table_names = False


class Design(Table):
    """head: number of the revision that is current. shown: JSON of what the rack shows, empty until a body was built."""

    id = CharField(primary_key=True, max_length=16)
    name = CharField(max_length=80)
    created = FloatField()
    changed = FloatField(index=True)
    head = IntegerField()
    shown = TextField(default="")


class Revision(Table):
    """One accepted batch of edits, as the whole document after it. parent: the revision it was made on, null for the first.

    mark: given by who sent it, so that an edit that is sent again because its answer was lost is known again.
    words: what the edits do, in words.
    """

    design = ForeignKeyField(Design, backref="revisions", on_delete="CASCADE")
    number = IntegerField()
    parent = IntegerField(null=True)
    created = FloatField()
    document = BlobField()
    mark = CharField(max_length=40, default="")
    words = CharField(max_length=80, default="the last change")

    class Meta:
        primary_key = CompositeKey("design", "number")


class Version(Table):
    """A revision that was given a name."""

    id = AutoField()
    design = ForeignKeyField(Design, backref="versions", on_delete="CASCADE")
    number = IntegerField()
    name = CharField(max_length=80)
    created = FloatField()


class Picture(Table):
    """A reference picture by the key of its data. Designs name it; nothing changes it."""

    key = CharField(max_length=32, primary_key=True)
    created = FloatField()
    data = BlobField()


class PartFile(Table):
    """The data of a file with bodies in it, by its key, packed. Designs name it; nothing changes it."""

    key = CharField(max_length=32, primary_key=True)
    created = FloatField()
    data = BlobField()


class Profile(Table):
    """An own profile: a drawing under a name, as JSON in the open format."""

    id = AutoField()
    name = CharField(max_length=80, unique=True)
    created = FloatField()
    drawing = BlobField()
