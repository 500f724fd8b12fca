"""Finding what was done: a full-text index of all that is recorded of every part, which the store itself keeps true.

A row a part, photo, bag, finding, note and tag. English endings do not matter (folded, folds, fold).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.db import connections, transaction
from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

from zonatome.core.errors import BadInput
from zonatome.core.survey.kind import Kind
from zonatome.core.survey.kinds import KINDS
from zonatome.core.units import Units, said_in
from zonatome.web.jobs.models import Photo

SPREAD = 10**12  # rows of each source are numbered from its number times this
FOUND = 30  # a page
MOST_WORDS = 12
MARK, END = "\x02", "\x03"  # round what matched, until it is escaped


@dataclass(frozen=True)
class Source:
    """A table whose rows are found: its number, what a row says, the columns that this rests on, its job and part."""

    number: int
    table: str
    said: str
    columns: str
    job: str = "{row}.job_id"
    part: str = "{row}.part_id"


_KIND = "(SELECT replace(kind_key, '_', ' ') FROM jobs_job WHERE id = {row}.job_id)"
_PART = "coalesce((SELECT replace(key, '_', ' ') FROM jobs_jobpart WHERE id = {row}.part_id), '')"
SOURCES = (
    Source(
        1,
        "jobs_jobpart",
        f"{_KIND} || ' ' || replace({{row}}.key, '_', ' ') || ' ' || {{row}}.fixing || ' ' || {{row}}.fixings "
        "|| ' ' || {row}.note || ' ' || {row}.marks || ' ' || {row}.fate || ' ' || "
        "coalesce(replace({row}.stack, '_', ' '), '') || "
        "CASE WHEN {row}.fastening IS NULL THEN '' ELSE ' corner folded put on ' || replace({row}.fastening, '_', ' ') "
        "END",
        "key, fixing, fixings, note, marks, fate, stack, fastening",
        part="{row}.id",
    ),
    Source(2, "jobs_photo", f"{_KIND} || ' ' || {_PART} || ' photo ' || {{row}}.words", "words, part_id"),
    Source(
        3, "strip_bag", f"{_KIND} || ' ' || {_PART} || ' bag ' || {{row}}.contents || ' ' || {{row}}.came_from",
        "contents, came_from, part_id",
    ),
    Source(
        4, "survey_layerfinding", f"{_KIND} || ' ' || {{row}}.layer || ' ' || replace({{row}}.finding, '_', ' ')",
        "finding", part="NULL",
    ),
    Source(
        5, "survey_layerverdict", f"{_KIND} || ' ' || {{row}}.layer || ' ' || {{row}}.verdict || ' ' || {{row}}.note",
        "verdict, note", part="NULL",
    ),
    Source(
        6,
        "jobs_job",
        "{row}.number || ' ' || {row}.title || ' ' || {row}.client || ' ' || {row}.wish || ' ' || "
        "replace({row}.kind_key, '_', ' ') || ' ' || {row}.restyled || ' ' || {row}.trim_kind || ' ' || "
        "coalesce({row}.hand_over, '')",
        "number, title, client, wish, restyled, trim_kind, hand_over",
        job="{row}.id",
        part="NULL",
    ),
)  # fmt: skip


def _kept_true(source: Source) -> Iterator[str]:
    name, at = f"record_{source.number}", source.number * SPREAD

    def row(which: str) -> str:
        values = (source.said, source.job, source.part)
        told = ", ".join(value.format(row=which) for value in values)
        return f"{at} + {which}.id, {told}"

    put = f"INSERT OR REPLACE INTO record_said(rowid, said, job, part) SELECT {row('new')}"
    drop = f"DELETE FROM record_said WHERE rowid = {at} + old.id"
    yield f"CREATE TRIGGER {name}_new AFTER INSERT ON {source.table} BEGIN {put}; END"
    yield f"CREATE TRIGGER {name}_changed AFTER UPDATE OF {source.columns} ON {source.table} BEGIN {drop}; {put}; END"
    yield f"CREATE TRIGGER {name}_gone AFTER DELETE ON {source.table} BEGIN {drop}; END"
    yield (f"INSERT INTO record_said(rowid, said, job, part) SELECT {row(source.table)} FROM {source.table}")


def forget(*, using: str = "default", **_: Any) -> None:
    """Take the index away, before tables are altered: a trigger that names a table which is being made anew stops
    that. It is made again when all is done.
    """
    with transaction.atomic(using=using), connections[using].cursor() as cursor:
        for source in SOURCES:
            for kind in ("new", "changed", "gone"):
                cursor.execute(f"DROP TRIGGER IF EXISTS record_{source.number}_{kind}")
        cursor.execute("DROP TABLE IF EXISTS record_said")


def prepare(*, using: str = "default", **_: Any) -> None:
    """Make the index anew with what keeps it true."""
    forget(using=using)
    with transaction.atomic(using=using), connections[using].cursor() as cursor:
        cursor.execute(
            "CREATE VIRTUAL TABLE record_said USING fts5("
            "said, job UNINDEXED, part UNINDEXED, tokenize = 'porter unicode61')"
        )
        for source in SOURCES:
            for statement in _kept_true(source):
                cursor.execute(statement)


@dataclass(frozen=True)
class Asked:
    """What is looked for: words, a kind, a panel's key, a fixing, whether with photos, between which days."""

    words: str = ""
    kind: str = ""
    panel: str = ""
    fixing: str = ""
    with_photos: bool = False
    since: date | None = None
    until: date | None = None

    @property
    def is_empty(self) -> bool:
        """Whether nothing is asked."""
        return self == Asked()


@dataclass(frozen=True)
class FoundRow:
    """What was found: its tag, the part, a piece of what is said there with the words marked, when."""

    number: int
    title: str
    client: str
    kind_key: str
    part_key: str
    part_name: str
    said: SafeString
    day: str
    photos: int


def panel_names() -> list[tuple[str, str]]:
    """Return the parts that any kind has, by key, each with its name."""
    names: dict[str, str] = {}
    for kind in KINDS.values():
        for part in kind.parts:
            names.setdefault(part.key, part.name)
    return sorted(names.items(), key=lambda one: one[1])


def words_asked(words: str) -> str:
    """Return words as the index takes them: each quoted, so that none is an operator; the last one may go on.

    Raises BadInput for too many.
    """
    told = "".join(c if c.isalnum() else " " for c in words).split()
    if len(told) > MOST_WORDS:
        raise BadInput("words", len(told), f"at most {MOST_WORDS} words")
    return " ".join(f'"{word}"' for word in told) + ("*" if told else "")


def look_up(asked: Asked, *, page: int = 1, units: Units = "metric") -> tuple[list[FoundRow], bool]:
    """Return what was found, the best first, and whether there is more. Raises BadInput for too many words."""
    match = words_asked(asked.words)
    where, values = ["j.taken_down_at IS NULL"], list[Any]()
    if match:
        where.append("record_said MATCH %s")
        values.append(match)
    else:
        where.append(f"record_said.rowid < {2 * SPREAD}")  # without words: parts
    for told, clause in (
        (asked.kind, "j.kind_key = %s"),
        (asked.panel, "p.key = %s"),
        (asked.fixing and f'%"{asked.fixing}"%', "p.fixings LIKE %s"),
        (asked.since, "date(coalesce(p.off_at, j.hung_at)) >= %s"),
        (asked.until, "date(coalesce(p.off_at, j.hung_at)) <= %s"),
    ):
        if told:
            where.append(clause)
            values.append(told.isoformat() if isinstance(told, date) else told)
    if asked.with_photos:
        where.append("EXISTS (SELECT 1 FROM jobs_photo f WHERE f.job_id = j.id AND (p.id IS NULL OR f.part_id = p.id))")
    order = "bm25(record_said), j.id DESC" if match else "p.off_at DESC, p.id DESC"
    said = f"snippet(record_said, 0, '{MARK}', '{END}', ' … ', 18)" if match else "substr(record_said.said, 1, 160)"
    sql = (
        f"SELECT j.id, p.id, j.number, j.title, j.client, j.kind_key, p.key, {said}, "
        "date(coalesce(p.off_at, j.hung_at)) FROM record_said JOIN jobs_job j ON j.id = record_said.job "
        f"LEFT JOIN jobs_jobpart p ON p.id = record_said.part WHERE {' AND '.join(where)} "
        f"ORDER BY {order} LIMIT %s OFFSET %s"
    )
    with connections["default"].cursor() as cursor:
        cursor.execute(sql, [*values, FOUND + 1, (page - 1) * FOUND])
        rows = cursor.fetchall()
    photos = Photo.objects.filter(job_id__in={row[0] for row in rows}).values_list("job_id", "part_id")
    counts = Counter(photos)
    of_jobs = Counter(job for job, _ in photos)
    found = [_row(row[2:], counts[row[0], row[1]] if row[1] else of_jobs[row[0]], units) for row in rows[:FOUND]]
    return found, len(rows) > FOUND


def _row(row: tuple[Any, ...], photos: int, units: Units) -> FoundRow:
    number, title, client, kind_key, key, said, day = row
    kind: Kind | None = KINDS.get(kind_key)
    name = ""
    if key:
        name = kind.part(key).name if kind is not None and kind.has(key) else key.replace("_", " ")
    marked = said_in(escape(_plain(said)), units).replace(MARK, "<mark>").replace(END, "</mark>")
    when = f"{date.fromisoformat(day):%-d %b %Y}" if day else ""
    return FoundRow(number, title, client, kind_key, key or "", name, mark_safe(marked), when, photos)


def _plain(said: str) -> str:
    """What is said without the marks of how it is stored."""
    return " ".join("".join(" " if c in '{}[]":' else c for c in said).split()).replace(" ,", ",")
