"""Pieces, their patterns and revisions, the Trail, and clips; where musicians are signed in.

Nothing is overwritten: an edit appends a revision, and what is deleted is only marked, so that it
can be brought back. A `key`, chosen by who asks, makes asking again for the same thing harmless.
"""

from typing import Any
from uuid import uuid4

from django.conf import settings
from django.contrib.sessions.base_session import AbstractBaseSession
from django.db import models
from django.utils import timezone


class WithHistory(models.Model):
    """What has states, and stands at one of them, its `head`; `moved` is the key of the undo or
    redo that brought it there, if one did."""

    moved = models.UUIDField(null=True)
    head_id: int | None

    class Meta:
        abstract = True

    @property
    def state(self) -> int:
        """The state that it stands at; 0 where there is none, as of a piece without an order."""
        return self.head_id or 0


class Piece(WithHistory):
    """One piece of work; `head` is the state that its order of patterns stands at (none: there is
    no order yet); `heard` counts the passes that were ever laid on its Trail."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="pieces")
    name = models.CharField(max_length=80)
    key = models.UUIDField(null=True)
    head = models.ForeignKey("OrderRevision", models.RESTRICT, null=True, related_name="+")
    heard = models.PositiveIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)
    deleted = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("created", "id")
        constraints = (models.UniqueConstraint(fields=("owner", "key"), name="one_piece_a_key"),)

    def __str__(self) -> str:
        return self.name


class Pattern(WithHistory):
    """Lanes and a frame."""

    piece = models.ForeignKey(Piece, models.CASCADE, related_name="patterns")
    name = models.CharField(max_length=80)
    key = models.UUIDField(null=True)
    head = models.ForeignKey("Revision", models.RESTRICT, null=True, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    deleted = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("created", "id")
        constraints = (models.UniqueConstraint(fields=("piece", "key"), name="one_pattern_a_key"),)

    def __str__(self) -> str:
        return self.name


class State(models.Model):
    """One state of something that has a history; never changed once written. `parent` is the state
    before it, `label` the change that led here."""

    parent = models.ForeignKey("self", models.CASCADE, null=True, related_name="children")
    key = models.UUIDField(null=True)
    label = models.CharField(max_length=200)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        abstract = True


class Revision(State):
    """One state of a pattern's recipe."""

    pattern = models.ForeignKey(Pattern, models.CASCADE, related_name="revisions")
    recipe: Any = models.JSONField()

    class Meta:
        constraints = (models.UniqueConstraint(fields=("pattern", "key"),
                                               name="one_revision_a_key"),)

    def __str__(self) -> str:
        return f"{self.pattern_id}: {self.label}"


class OrderRevision(State):
    """One state of a piece's order of patterns."""

    piece = models.ForeignKey(Piece, models.CASCADE, related_name="revisions")
    document: Any = models.JSONField()

    class Meta:
        constraints = (models.UniqueConstraint(fields=("piece", "key"),
                                               name="one_order_revision_a_key"),)

    def __str__(self) -> str:
        return f"{self.piece_id}: {self.label}"


class TrailPass(models.Model):
    """A pass as it was played: `segments` name revisions (with edits that were only previewed) and
    stretches of their time, from which its notes can be worked out again exactly. It is filed
    under the pattern that it began with; others of the piece may have taken over. `number` is that
    of the pass in its pattern, from 0; `ordinal` the pass's own on the Trails of the piece, from 1,
    which no other has."""

    pattern = models.ForeignKey(Pattern, models.CASCADE, related_name="trail")
    key = models.UUIDField()
    number = models.PositiveIntegerField()
    ordinal = models.PositiveIntegerField(default=0)
    start = models.FloatField()
    beats = models.CharField(max_length=40)
    segments: Any = models.JSONField()
    picture: Any = models.JSONField()
    kept = models.BooleanField(default=False)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("pattern", "key"), name="one_pass_a_key"),)

    def __str__(self) -> str:
        return f"pass {self.ordinal}"


class Clip(WithHistory):
    """Fixed notes on the Shelf, and the passes that they were taken from, if they were; `picture`
    the small picture of the state that it stands at (none: it was not drawn yet); `place` among
    the others where they are ordered by hand, the lowest first."""

    piece = models.ForeignKey(Piece, models.CASCADE, related_name="clips")
    pattern = models.ForeignKey(Pattern, models.SET_NULL, null=True, related_name="clips")
    name = models.CharField(max_length=80)
    key = models.UUIDField(null=True)
    head = models.ForeignKey("ClipRevision", models.RESTRICT, null=True, related_name="+")
    picture: Any = models.JSONField(null=True)
    segments: Any = models.JSONField()
    starred = models.BooleanField(default=False)
    tags: Any = models.JSONField(default=list)
    place = models.FloatField(default=0)
    created = models.DateTimeField(auto_now_add=True)
    deleted = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("place", "-id")
        constraints = (models.UniqueConstraint(fields=("piece", "key"), name="one_clip_a_key"),)

    def __str__(self) -> str:
        return self.name


class ClipRevision(State):
    """One state of a clip's notes: `document` is the whole of it, or, so many states after one that
    is kept whole (`apart`), `difference` what makes it out of the state before."""

    clip = models.ForeignKey(Clip, models.CASCADE, related_name="revisions")
    document: Any = models.JSONField(null=True)
    difference: Any = models.JSONField(null=True)
    apart = models.PositiveSmallIntegerField(default=0, db_default=0)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("clip", "key"),
                                               name="one_clip_revision_a_key"),)

    def __str__(self) -> str:
        return f"{self.clip_id}: {self.label}"


class SoundFile(models.Model):
    """A musician's own recording, named by the SHA-256 of its bytes, so that every revision, pass
    and copy that says its name is heard by the same sound for ever."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="sounds")
    digest = models.CharField(max_length=64)
    kind = models.CharField(max_length=20)
    data = models.BinaryField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("owner", "digest"),
                                               name="one_sound_a_digest"),)

    def __str__(self) -> str:
        return self.digest


class Link(models.Model):
    """What is shown to whoever has a link to it: a piece, or a pattern or a clip of it alone;
    always as it is (`follows`), or as it was when the link was made (`contents`). `token` stands in
    its address, and is found by `digest`, its SHA-256; `name` is the owner's, and `by` is shown.
    `picture` is a PNG of what it shows, worked out once for each state (`pictured`)."""

    piece = models.ForeignKey(Piece, models.CASCADE, related_name="links")
    pattern = models.ForeignKey(Pattern, models.CASCADE, null=True, related_name="+")
    clip = models.ForeignKey(Clip, models.CASCADE, null=True, related_name="+")
    token = models.CharField(max_length=43)
    digest = models.CharField(max_length=64, unique=True)
    name = models.CharField(max_length=80)
    by = models.CharField(max_length=80, blank=True)
    follows = models.BooleanField()
    contents: Any = models.JSONField(null=True)
    picture = models.BinaryField(null=True)
    pictured = models.CharField(max_length=64, blank=True)
    key = models.UUIDField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-id",)
        constraints = (models.UniqueConstraint(fields=("piece", "key"), name="one_link_a_key"),)

    def __str__(self) -> str:
        return self.name


class OwnStart(models.Model):
    """A starting recipe that a musician has saved."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="starts")
    document: Any = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return str(self.document.get("name"))


class SignIn(AbstractBaseSession):
    """A session, and whose it is; for its owner it is called by `name`. `agent` is the browser as
    it called itself, `seen` is told to some minutes."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, null=True,
                              related_name="sign_ins")
    name = models.UUIDField(default=uuid4)
    agent = models.CharField(max_length=300, default="")
    begun = models.DateTimeField(default=timezone.now)
    seen = models.DateTimeField(default=timezone.now)


class Departure(models.Model):
    """An account that is to be deleted, with all that is in it, `at` a time; until then its owner
    may think better of it."""

    owner = models.OneToOneField(settings.AUTH_USER_MODEL, models.CASCADE)
    at = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.owner_id}: {self.at}"
