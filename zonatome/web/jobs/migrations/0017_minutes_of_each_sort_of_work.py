"""Rates of each sort of work take the place of a pad's, a seam's and a trim's: what a workroom had set for a metre of seam
stays with it, the others have no like.
"""

from django.db import migrations

GONE = ("minutes_pad", "minutes_trim", "later_in_a_set")


def renamed(apps, schema_editor):
    """Carry a workroom's own figures over."""
    for workroom in apps.get_model("jobs", "Workroom").objects.all():
        own = {key: value for key, value in workroom.own_rules.items() if key not in GONE}
        if "minutes_seam" in own:
            own["minutes_seam_metre"] = own.pop("minutes_seam")
        if own != workroom.own_rules:
            workroom.own_rules = own
            workroom.save(update_fields=["own_rules"])


class Migration(migrations.Migration):

    dependencies = [
        ("jobs", "0016_legs_and_skirt"),
    ]

    operations = [
        migrations.RunPython(renamed, migrations.RunPython.noop),
    ]
