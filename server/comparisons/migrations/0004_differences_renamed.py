from django.db import migrations


def renamed(apps, schema_editor):
    """Recipes of before: ``reduced`` is ``repeats``, and control rules are held against a target of their own part."""
    for entry in apps.get_model("comparisons", "TrailEntry").objects.exclude(recipe__differences=None).iterator():
        asked = entry.recipe["differences"]
        if "reduced" in asked:
            asked["repeats"] = asked.pop("reduced")
        control = asked.get("control")
        if control == "own" or isinstance(control, list):
            asked["control"] = {"target": control if control == "own" else dict(zip(("mean", "sd"), control, strict=True))}
        entry.save(update_fields=["recipe"])


class Migration(migrations.Migration):
    dependencies = [("comparisons", "0003_locks_and_versions")]
    operations = [migrations.RunPython(renamed, migrations.RunPython.noop)]
