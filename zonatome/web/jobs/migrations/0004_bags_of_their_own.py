"""Bags have rows of their own: what stood on the parts is carried over."""

from django.db import migrations


def carry_over(apps, schema_editor):
    bags, parts = apps.get_model("strip", "Bag"), apps.get_model("jobs", "JobPart")
    for part in parts.objects.exclude(bag=None):
        bags.objects.get_or_create(job_id=part.job_id, number=part.bag, defaults={"part_id": part.pk, "emptied": part.bag_emptied})


class Migration(migrations.Migration):
    dependencies = [("jobs", "0003_strip_and_survey_in_full"), ("strip", "0001_strip_and_survey_in_full")]
    operations = [
        migrations.RunPython(carry_over, migrations.RunPython.noop),
        migrations.RemoveField(model_name="jobpart", name="bag"),
        migrations.RemoveField(model_name="jobpart", name="bag_emptied"),
    ]
