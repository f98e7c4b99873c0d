from django.db import migrations


class Migration(migrations.Migration):
    """What is written down of a study is not changed afterwards, whoever tries."""

    dependencies = [("people", "0001_begin")]
    operations = [
        migrations.RunSQL(
            "CREATE TRIGGER happening_written_once BEFORE UPDATE ON people_happening "
            "BEGIN SELECT RAISE(ABORT, 'what happened is not changed'); END",
            "DROP TRIGGER happening_written_once",
        )
    ]
