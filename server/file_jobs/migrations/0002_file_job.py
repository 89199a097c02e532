from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("outgoing", "0001_outgoing")]
    operations = [migrations.RenameModel("OutgoingJob", "FileJob")]
