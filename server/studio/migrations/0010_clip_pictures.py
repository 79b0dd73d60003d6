from django.db import migrations, models


class Migration(migrations.Migration):
    """Clips keep their small picture."""

    dependencies = [
        ('studio', '0009_clip_differences'),
    ]

    operations = [
        migrations.AddField(
            model_name='clip',
            name='picture',
            field=models.JSONField(null=True),
        ),
    ]
