from django.db import migrations, models


class Migration(migrations.Migration):
    """States of clips may be kept as what makes them out of the state before."""

    dependencies = [
        ('studio', '0008_trail_numbers'),
    ]

    operations = [
        migrations.AddField(
            model_name='cliprevision',
            name='apart',
            field=models.PositiveSmallIntegerField(db_default=0, default=0),
        ),
        migrations.AddField(
            model_name='cliprevision',
            name='difference',
            field=models.JSONField(null=True),
        ),
        migrations.AlterField(
            model_name='cliprevision',
            name='document',
            field=models.JSONField(null=True),
        ),
    ]
