"""Fields of the cache are named by what they hold."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("jobs", "0011_made_up")]

    operations = [
        migrations.RenameField("job", "kept", "standing_cache"),
        migrations.RenameField("job", "kept_for", "cache_token"),
    ]
