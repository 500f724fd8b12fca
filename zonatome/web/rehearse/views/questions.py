"""Questions at the steps before the staples: asked one after the other, each answer worked out and shown."""

from __future__ import annotations

from django.db import transaction
from django.db.models import F
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from zonatome.core.fasten.questions import MOST_NUMBER, TOPICS, question
from zonatome.web.base.request import BenchRequest
from zonatome.web.base.who import who
from zonatome.web.rehearse.drawing import question_picture, question_sketch
from zonatome.web.rehearse.models import Answers


def answers_of(topic: str) -> Answers:
    """Return what somebody has answered of a topic, a new row where it is nothing."""
    return Answers.objects.filter(who=who(), topic=topic).first() or Answers(who=who(), topic=topic)


def _topic_or_404(topic: str) -> str:
    if topic not in TOPICS:
        raise Http404
    return topic


def _number(told: str | None, most: int) -> int | None:
    """A whole number that was sent, 0 to `most`; None for anything else."""
    if told is None or len(told) > 6 or not told.isascii() or not told.isdigit():
        return None
    return int(told) if int(told) <= most else None


def asked(request: BenchRequest, topic: str) -> HttpResponse:
    """Ask the next question of a topic; or show one that was answered, worked out."""
    row = answers_of(_topic_or_404(topic))
    number, chosen = (_number(request.GET.get(name), MOST_NUMBER) for name in ("number", "chosen"))
    is_answered = number is not None and chosen is not None and number < row.count
    number = number if is_answered and number is not None else row.count
    one = question(topic, number)
    context = {
        "topic": topic,
        "topics": TOPICS.items(),
        "row": row,
        "number": number,
        "question": one,
        "question_choices": [(n, words, n == one.right, n == chosen) for n, words in enumerate(one.choices)],
        "is_answered": is_answered,
        "is_right": is_answered and chosen == one.right,
        "sketch": question_sketch(one, is_answered=is_answered),
    }
    return render(request, "rehearse/question.html", context)


@require_POST
def answer(request: BenchRequest, topic: str) -> HttpResponse:
    """Take an answer to the question that is asked; one that was sent twice counts once."""
    row = answers_of(_topic_or_404(topic))
    here = reverse("rehearse:question", args=[topic])
    number, chosen = (_number(request.POST.get(name), MOST_NUMBER) for name in ("number", "chosen"))
    if number is None or chosen is None or number > row.count:
        return redirect(here)
    if number == row.count:
        one = question(topic, number)
        if chosen >= len(one.choices):
            return redirect(here)
        _count(row, is_right=chosen == one.right)
    return redirect(f"{here}?number={number}&chosen={chosen}")


def _count(row: Answers, *, is_right: bool) -> None:
    with transaction.atomic():
        if row.pk is None:
            row.save()
        Answers.objects.filter(pk=row.pk, count=row.count).update(
            count=F("count") + 1,
            right=F("right") + is_right,
            in_a_row=F("in_a_row") + 1 if is_right else 0,
        )


def picture(request: BenchRequest, topic: str, number: int) -> HttpResponse:
    """Send the picture of the furniture that a question is about."""
    if number >= MOST_NUMBER:
        raise Http404
    one = question(_topic_or_404(topic), number)
    if one.kind is None:
        raise Http404
    headers = {"Cache-Control": "private, max-age=3600"}
    return HttpResponse(question_picture(one, one.kind), content_type="image/svg+xml", headers=headers)
