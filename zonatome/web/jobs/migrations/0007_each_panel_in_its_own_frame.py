from django.db import migrations

COLUMNS = ("shape", "shape_way", "off_number", "off_at", "fate", "is_there")


def bring_over(apps, schema_editor):
    """Write furniture and shapes, which followed the opened-out drawing, in each panel's own frame."""
    from zonatome.core.formats.furniture_json import write_furniture
    from zonatome.core.formats.version_1 import job_brought_over
    from zonatome.core.trace.wishes import wishes_of

    jobs, parts = apps.get_model("jobs", "Job"), apps.get_model("jobs", "JobPart")
    for job in jobs.objects.all():
        if job.furniture is not None and job.furniture.get("version") != 1:
            continue
        rows = {row.key: row for row in parts.objects.filter(job=job)}
        plain = [{"key": r.key, **{c: getattr(r, c) for c in COLUMNS}} for r in rows.values()]
        told = job_brought_over(job.kind_key, job.variants, job.furniture, plain)
        job.furniture = write_furniture(told.furniture) if told.furniture is not None else None
        job.furniture_past, job.kept = [], None
        job.furniture_version += 1
        job.to_look_at = list(told.to_look_at)
        job.save()
        main = next((r.cloth_id for r in rows.values() if r.cloth_id and r.shape), None)
        by_key, used = {p.key: p for p in told.kind.parts}, set()
        for data in told.rows:  # rows that were there come first, then copies of them, then panels that are new
            source, part = rows.get(data["from"]), by_key.get(data["key"])
            if source is not None and source.pk not in used:
                row = source
                used.add(row.pk)
            else:
                of_face = part is not None and part.what == "panel" and not part.deck
                row = parts(job=job, cloth_id=source.cloth_id if source is not None else main if of_face else None, wrap=50.0)
            row.key = data["key"]
            for column in COLUMNS:
                if column in data:
                    setattr(row, column, data[column])
            row.is_there = row.is_there and part is not None
            row.shape_has = wishes_of(part).as_data() if part is not None and row.shape else {}
            row.save()
    apps.get_model("trace", "ShapeChange").objects.all().delete()  # the shapes as they were lie in another frame
    apps.get_model("lay", "JobCloth").objects.update(wants="")


def stay(apps, schema_editor):
    """What has been brought over stays as it is: a version before this one does not read it."""


class Migration(migrations.Migration):
    dependencies = [
        ("jobs", "0006_own_frames"), ("trace", "0002_shapechange"), ("lay", "0008_remnant_photo"),
        ("strip", "0001_strip_and_survey_in_full"), ("survey", "0002_strip_and_survey_in_full"),
    ]
    operations = [migrations.RunPython(bring_over, stay)]
