"""Sundries in stock: things, what came and went of them, what was ordered. Cloth, foam offcuts and saved things have
stores of their own.
"""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from zonatome.web.base.who import who
from zonatome.web.jobs.models import Job

UNITS = [("mm", "by length"), ("sheets", "by the sheet"), ("pieces", "by the piece")]


class StockItem(models.Model):
    """A thing that lies in stock, by the name that bills of materials give it; amounts in its unit."""

    name = models.CharField(max_length=80, unique=True)
    unit = models.CharField(max_length=8, choices=UNITS, default="pieces")
    least = models.FloatField(default=0)

    class Meta:
        ordering = ["name"]


class StockOrder(models.Model):
    """Packs of a thing that were ordered, and what was sent back of them."""

    item = models.ForeignKey(StockItem, on_delete=models.CASCADE, related_name="orders")
    number = models.CharField(max_length=40)
    packs = models.PositiveIntegerField()
    pack = models.FloatField()
    cost = models.DecimalField(max_digits=10, decimal_places=2)
    returned = models.PositiveIntegerField(default=0)
    credit = models.DecimalField(max_digits=10, decimal_places=2, default=0)
    made_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-id"]


class StockPart(models.Model):
    """One delivery of an order: how much is to come when, and what came."""

    order = models.ForeignKey(StockOrder, on_delete=models.CASCADE, related_name="parts")
    amount = models.FloatField()
    arrives = models.DateField()
    came_at = models.DateTimeField(null=True, blank=True)
    came_amount = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["arrives", "id"]


class StockMove(models.Model):
    """So much of a thing that came or went; what lies there is the sum."""

    WHY = [("came", "came"), ("used", "taken for a tag"), ("counted", "counted"), ("returned", "sent back")]

    item = models.ForeignKey(StockItem, on_delete=models.CASCADE, related_name="moves")
    amount = models.FloatField()
    why = models.CharField(max_length=8, choices=WHY)
    job = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL, related_name="stock_moves")
    part = models.ForeignKey(StockPart, null=True, blank=True, on_delete=models.SET_NULL, related_name="moves")
    by = models.CharField(max_length=150, blank=True, default=who, editable=False)
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-id"]
