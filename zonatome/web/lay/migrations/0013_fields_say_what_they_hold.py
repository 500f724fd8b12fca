"""Fields of the cache are named by what they hold."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("lay", "0012_who_did_it")]

    operations = [
        migrations.RenameField("jobcloth", "wants", "wanted_fingerprint"),
        migrations.RenameField("layrun", "easy", "row_lay"),
    ]
