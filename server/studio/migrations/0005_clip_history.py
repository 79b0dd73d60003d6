"""Clips get a history: what each holds is its first state."""

import django.db.models.deletion
from django.db import migrations, models


def begin_histories(apps, schema_editor):
    clips = apps.get_model("studio", "Clip")
    states = apps.get_model("studio", "ClipRevision")
    for clip in clips.objects.iterator():
        clip.head = states.objects.create(clip=clip, document=clip.document, label="kept")
        clip.save(update_fields=["head"])


class Migration(migrations.Migration):

    dependencies = [("studio", "0004_own_sounds")]

    operations = [
        migrations.CreateModel(
            name="ClipRevision",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False,
                                           verbose_name="ID")),
                ("key", models.UUIDField(null=True)),
                ("label", models.CharField(max_length=200)),
                ("created", models.DateTimeField(auto_now_add=True)),
                ("document", models.JSONField()),
                ("clip", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE,
                                           related_name="revisions", to="studio.clip")),
                ("parent", models.ForeignKey(null=True,
                                             on_delete=django.db.models.deletion.CASCADE,
                                             related_name="children", to="studio.cliprevision")),
            ],
            options={"constraints": [models.UniqueConstraint(
                fields=("clip", "key"), name="one_clip_revision_a_key")]},
        ),
        migrations.AddField("clip", "head", models.ForeignKey(
            null=True, on_delete=django.db.models.deletion.RESTRICT, related_name="+",
            to="studio.cliprevision")),
        migrations.AddField("clip", "moved", models.UUIDField(null=True)),
        migrations.RunPython(begin_histories, migrations.RunPython.noop),
        migrations.RemoveField("clip", "document"),
    ]
