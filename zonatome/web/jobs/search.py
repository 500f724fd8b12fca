"""Finding a tag by a few letters: a full-text index of what stands on the tags, which the store itself keeps true."""

from __future__ import annotations

from typing import Any

from django.db import connections, models
from django.db.models import F, Q
from django.db.models.expressions import RawSQL

from zonatome.web.jobs.models import Job, JobQuerySet

LEAST = 3  # letters: the index knows threes
SAID = "{row}.number || ' ' || {row}.title || ' ' || {row}.client || ' ' || {row}.wish"
PUT = f"INSERT OR REPLACE INTO jobs_said(rowid, said) VALUES (new.id, {SAID.format(row='new')})"
KEPT_TRUE = (
    'CREATE VIRTUAL TABLE IF NOT EXISTS jobs_said USING fts5(said, tokenize = "trigram")',
    f"CREATE TRIGGER IF NOT EXISTS jobs_said_new AFTER INSERT ON jobs_job BEGIN {PUT}; END",
    f"CREATE TRIGGER IF NOT EXISTS jobs_said_changed AFTER UPDATE OF number, title, client, wish ON jobs_job BEGIN "
    f"{PUT}; END",
    "CREATE TRIGGER IF NOT EXISTS jobs_said_gone AFTER DELETE ON jobs_job BEGIN DELETE FROM jobs_said WHERE rowid = "
    "old.id; END",
    "DELETE FROM jobs_said",
    f"INSERT INTO jobs_said(rowid, said) SELECT id, {SAID.format(row='jobs_job')} FROM jobs_job",
)


def prepare(*, using: str = "default", **_: Any) -> None:
    """Make the index and what keeps it true, after the store was migrated:
    a table that is altered loses its triggers.
    """
    with connections[using].cursor() as cursor:
        for statement in KEPT_TRUE:
            cursor.execute(statement)


def tags_saying(wanted: str) -> JobQuerySet:
    """Return the tags on which all the words stand, in any order; what hangs here first, nearest due, then what went
    home.
    """
    tags: JobQuerySet = Job.objects.order_by(
        F("finished_at").asc(nulls_first=True), F("due").asc(nulls_last=True), "number"
    )
    for word in wanted.replace("\0", " ").split():
        if len(word) < LEAST:
            anywhere = models.Q()
            for field in ("title", "client", "wish"):
                anywhere |= Q(**{f"{field}__icontains": word})
            tags = tags.filter(anywhere | Q(number__startswith=word))
        else:
            quoted = '"' + word.replace('"', '""') + '"'
            tags = tags.filter(pk__in=RawSQL("SELECT rowid FROM jobs_said WHERE jobs_said MATCH %s", [quoted]))
    return tags
