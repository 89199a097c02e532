from django.db import migrations, models


def chain(apps, schema_editor):
    """Tables that replaced the same one follow one another by age."""
    table = apps.get_model("tables", "DataTable")
    last = {}
    for newer in table.objects.exclude(replaces=None).order_by("made"):
        before = last.get(newer.replaces_id)
        last[newer.replaces_id] = newer.pk
        if before is not None:
            table.objects.filter(pk=newer.pk).update(replaces=before)


class Migration(migrations.Migration):
    dependencies = [("tables", "0003_preparation")]
    operations = [
        migrations.RunPython(chain, migrations.RunPython.noop),
        migrations.AddConstraint(
            model_name="datatable", constraint=models.UniqueConstraint(fields=["replaces"], name="one_newer_table_a_table")
        ),
    ]
