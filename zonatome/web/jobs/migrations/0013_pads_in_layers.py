"""A pad is a stack of layers; what was foam, wadding and webbing becomes one."""

from django.db import migrations, models

from zonatome.core.formats.stack_json import stack_of_thicknesses, write_stack


def in_layers(apps, schema_editor):
    parts = apps.get_model("jobs", "JobPart")
    for part in parts.objects.exclude(foam=None):
        stack = stack_of_thicknesses(part.foam, part.wadding, part.oversize, webbing=part.webbing)
        part.stack = write_stack(stack) if stack.layers else None
        part.save(update_fields=["stack"])


class Migration(migrations.Migration):
    dependencies = [("jobs", "0012_fields_say_what_they_hold")]

    operations = [
        migrations.AddField("jobpart", "stack", models.JSONField(blank=True, editable=False, null=True)),
        migrations.AddField("jobpart", "stack_past", models.JSONField(blank=True, default=list, editable=False)),
        migrations.AddField("jobpart", "shape_wraps", models.FloatField(blank=True, editable=False, null=True)),
        migrations.RunPython(in_layers, migrations.RunPython.noop),
        migrations.RemoveField("jobpart", "foam"),
        migrations.RemoveField("jobpart", "wadding"),
        migrations.RemoveField("jobpart", "oversize"),
        migrations.RemoveField("jobpart", "webbing"),
    ]
