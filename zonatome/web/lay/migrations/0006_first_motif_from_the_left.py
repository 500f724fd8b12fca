from django.db import migrations


def turn_round(apps, schema_editor):
    """Where the first motif stands was measured from the right edge; corners are from the left, and so is it now."""
    for cloth in apps.get_model("lay", "Cloth").objects.exclude(repeat_across=None):
        step = cloth.repeat_across * (2 if cloth.pattern == "half_drop" else 1)
        cloth.first_across = round((cloth.width - cloth.first_across) % step, 4)
        cloth.save(update_fields=["first_across"])


class Migration(migrations.Migration):
    dependencies = [("lay", "0005_store_and_ranks")]
    operations = [migrations.RunPython(turn_round, turn_round)]
