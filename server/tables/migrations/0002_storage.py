from django.db import migrations


class Migration(migrations.Migration):
    """Bytes are already compressed, or must stay as they came: TOAST keeps them out of line and uncompressed."""

    dependencies = [("tables", "0001_initial")]
    operations = [
        migrations.RunSQL(
            "ALTER TABLE tables_rawpiece ALTER COLUMN data SET STORAGE EXTERNAL;"
            "ALTER TABLE tables_storedcolumn ALTER COLUMN buffer SET STORAGE EXTERNAL;",
            migrations.RunSQL.noop,
        )
    ]
