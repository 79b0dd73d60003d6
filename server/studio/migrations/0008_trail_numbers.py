from django.db import migrations, models

NUMBER = """
UPDATE studio_trailpass AS entry SET ordinal = numbered.place
FROM (SELECT laid.id, row_number() OVER (PARTITION BY pattern.piece_id ORDER BY laid.id) AS place
      FROM studio_trailpass AS laid JOIN studio_pattern AS pattern ON pattern.id = laid.pattern_id)
     AS numbered
WHERE numbered.id = entry.id;
UPDATE studio_piece AS piece SET heard = counted.passes
FROM (SELECT pattern.piece_id, count(*) AS passes
      FROM studio_trailpass AS laid JOIN studio_pattern AS pattern ON pattern.id = laid.pattern_id
      GROUP BY pattern.piece_id) AS counted
WHERE counted.piece_id = piece.id;
"""


class Migration(migrations.Migration):
    """Passes are numbered through all Trails of their piece."""

    dependencies = [
        ('studio', '0007_order'),
    ]

    operations = [
        migrations.AddField(
            model_name='piece',
            name='heard',
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.AddField(
            model_name='trailpass',
            name='ordinal',
            field=models.PositiveIntegerField(default=0),
        ),
        migrations.RunSQL(NUMBER, migrations.RunSQL.noop),
    ]
