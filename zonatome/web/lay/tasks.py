"""The search for a lay, in the worker."""

from __future__ import annotations

import time
from dataclasses import replace

from django.db.models import F, Q
from django.utils import timezone
from django_tasks import task

from zonatome.core.errors import ZonatomeError
from zonatome.core.formats.lay_json import read_request, write_lay
from zonatome.core.lay.ranking import rank
from zonatome.core.lay.request import Lay
from zonatome.web.lay import services
from zonatome.web.lay.models import ClothTrial, LayRun

BEAT = 0.8  # seconds between two signs of life


class Watch:
    """Writes a run's progress and signs of life, and reads whether it shall stop."""

    def __init__(self, run: LayRun) -> None:
        """Watch one run from now."""
        self.run, self.began, self.last, self.stop = run, time.monotonic(), 0.0, False
        self.request = run.asked()

    def better(self, lay: Lay) -> None:
        """Keep a better lay."""
        found = rank(self.request, lay)
        better = LayRun.objects.filter(pk=self.run.pk, rank__gt=found + (0.0 if lay.on_panels else 0.05))
        told = {"best": write_lay(lay), "best_length": lay.length, "rank": found, "beat_at": timezone.now()}
        if better.update(improvements=F("improvements") + 1, **told):
            services.forget_standing(self.run.job_cloth)

    def ended(self, lay: Lay) -> None:
        """Keep what is proven at the end: it is worked out beside the search, and comes after the lay that it stands
        beside.
        """
        kept = LayRun.objects.get(pk=self.run.pk).lay()
        proven = replace(kept, bound=min(kept.length, lay.bound))
        if not lay.on_panels and proven.bound > kept.bound:
            LayRun.objects.filter(pk=self.run.pk, best_length=kept.length).update(best=write_lay(proven))

    def asked_to_stop(self) -> bool:
        """Say whether to stop; looks at the row once a beat."""
        now = time.monotonic()
        if now - self.last >= BEAT:
            self.last = now
            share = min(1.0, (now - self.began) / self.run.seconds)
            LayRun.objects.filter(pk=self.run.pk).update(beat_at=timezone.now(), progress=share)
            self.stop = LayRun.objects.filter(pk=self.run.pk, stop_asked=True).exists()
        return self.stop


@task()
def search_for_lay(run_id: int) -> None:
    """Improve a run's lay for its seconds; the row holds the best so far all the while."""
    claimed = LayRun.objects.filter(pk=run_id, state="waiting").update(state="running", beat_at=timezone.now())
    if not claimed:
        return  # stopped before it began, or taken up by another worker
    run = LayRun.objects.select_related("job_cloth").get(pk=run_id)
    from zonatome.core.lay.lay import search_lay  # noqa: PLC0415 compiled code: only where it searches

    try:
        if run.best is None:
            first = services.first_lay_of(run.asked(), services.easy_lay(run.asked()))
            LayRun.objects.filter(pk=run_id).update(**first, beat_at=timezone.now())
            services.forget_standing(run.job_cloth)
        watch = Watch(run)
        watch.ended(
            search_lay(
                watch.request, seconds=run.seconds, seed=run.seed, report=watch.better, stopped=watch.asked_to_stop
            )
        )
    except ZonatomeError as refusal:
        LayRun.objects.filter(pk=run_id).update(state="failed", words=str(refusal)[:300], ended_at=timezone.now())
        return
    except Exception:
        LayRun.objects.filter(pk=run_id).update(
            state="failed", words="The search broke off; its best lay is kept.", ended_at=timezone.now()
        )
        raise
    LayRun.objects.filter(pk=run_id).update(
        state="stopped" if watch.stop else "done", progress=1.0, ended_at=timezone.now()
    )


@task()
def lay_on_trial(trial_id: int) -> None:
    """Shorten the lay of a cloth on trial; its row holds the shortest length so far."""
    mine = ClothTrial.objects.filter(pk=trial_id)
    if not mine.filter(state="waiting").update(state="running", beat_at=timezone.now()):
        return  # begun anew or taken off meanwhile
    from zonatome.core.lay.lay import search_lay  # noqa: PLC0415 compiled code: only where it is wanted

    trial = mine.get()

    def better(lay: Lay) -> None:
        shorter = Q(length=None) | Q(length__gt=lay.length + 0.05)
        mine.filter(shorter).update(length=lay.length, used=lay.used, beat_at=timezone.now())

    try:
        search_lay(read_request(trial.request), seconds=trial.seconds, report=better, stopped=lambda: not mine.exists())
    except Exception:
        mine.update(state="failed", words="The search broke off; its best length is kept.")
        raise
    mine.update(state="done", beat_at=timezone.now())
