from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("comparisons", "0006_signatures")]

    operations = [
        migrations.AddField("comparison", "archived", models.DateTimeField(null=True)),
        migrations.AddField("comparison", "binned", models.DateTimeField(null=True)),
    ]
