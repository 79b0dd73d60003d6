"""One's own account: passwords, sessions, recordings, all of it as a file, and its end."""

import json
from datetime import timedelta
from io import BytesIO, StringIO
from typing import Any
from zipfile import ZipFile

import pytest
from django.apps import apps
from django.contrib.auth.models import User
from django.core.management import CommandError, call_command
from django.utils import timezone
from studio.models import Departure, SignIn, SoundFile

from tests.api.conftest import Musician
from tests.api.test_accounts import GOOD
from tests.api.test_together import at_once
from tests.recordings import digest, keep, recording

FIREFOX = "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0"
NEW = "greenhouse-at-4am"


def signed_in(agent: str = "", **credentials: str) -> Musician:
    made = Musician(None)
    made.client.defaults["HTTP_USER_AGENT"] = agent
    made.good("post", "session", GOOD | credentials)
    return made


@pytest.fixture
def watch() -> Musician:
    """Somebody who has just made an account."""
    made = Musician(None)
    made.good("post", "accounts", GOOD)
    return made


def test_a_new_password_ends_every_other_session(watch: Musician) -> None:
    other = signed_in()
    assert watch.call("post", "account/password", {"now": "wrong", "new": NEW}) == (
        422, {"detail": "That is not your password."})
    status, answer = watch.call("post", "account/password", {
        "now": GOOD["password"], "new": "12345678"})
    assert status == 422 and "password" in answer["detail"]
    assert other.call("get", "account")[0] == 200
    watch.good("post", "account/password", {"now": GOOD["password"], "new": NEW})
    assert other.call("get", "account")[0] == 401
    assert len(watch.good("get", "account")["sign_ins"]) == 1
    assert Musician(None).call("post", "session", GOOD)[0] == 422
    signed_in(password=NEW)
    tried = [watch.call("post", "account/password", {"now": "guess", "new": NEW})[0]
             for _ in range(8)]
    assert tried[-1] == 429, "whoever sits at an open page cannot try them all"


def test_sessions_are_seen_and_ended(watch: Musician) -> None:
    tablet, phone = signed_in(FIREFOX), signed_in()
    found = watch.good("get", "account")["sign_ins"]
    assert sorted(each["browser"] for each in found) == [
        "Firefox on Linux", "an unknown browser", "an unknown browser"]
    assert [each["here"] for each in found].count(True) == 1
    named = next(each["name"] for each in found if "Firefox" in each["browser"])
    watch.good("delete", f"account/sign-ins/{named}")
    assert tablet.call("get", "account")[0] == 401 and phone.call("get", "account")[0] == 200
    watch.good("delete", "account/sign-ins")
    assert phone.call("get", "account")[0] == 401
    assert [each["here"] for each in watch.good("get", "account")["sign_ins"]] == [True]
    key = watch.client.cookies["sessionid"].value
    assert key not in json.dumps(watch.good("get", "account")), "what signs in is told to nobody"


def rows(*without: str) -> dict[str, int]:
    """How many there are of everything that the database holds."""
    return {model.__name__: model._default_manager.count() for model in apps.get_models()
            if model.__name__ not in without}


def fill(musician: Musician) -> int:
    """Some of everything; the pattern."""
    assert keep(musician, recording())[0] == 200
    pattern = musician.drums({"rule.pulses": 4}, {"rule.pulses": 2})
    musician.edit(pattern, {"do": "own_sound", "lane": "valve", "file": digest(recording()),
                            "name": 'Clank "3"'})
    revision = musician.state(pattern)["revision"]
    musician.good("post", f"patterns/{pattern}/trail", {
        "key": "6f1d2c9a-52b8-4f0a-9c1e-3a7d8e5b4c61", "number": 0, "start": 0, "beats": 4,
        "segments": [{"revision": revision, "at": 0, "start": 0, "end": 4}]})
    musician.good("post", f"patterns/{pattern}/keep", {"bars": 1})
    piece = musician.good("get", "pieces")[0]["id"]
    musician.good("post", f"pieces/{piece}/links", {"name": "For Moss"})
    musician.good("post", f"pieces/{piece}/order/edits", {
        "revision": 0, "edits": [{"do": "add_block", "pattern": pattern}]})
    musician.good("post", "library", {"pattern": pattern, "revision": revision, "lane": "pump",
                                      "name": "Mine"})
    gone = musician.piece("Gone")
    musician.good("delete", f"pieces/{gone['id']}")
    return pattern


@pytest.mark.parametrize("by", ["owner", "operator"])
def test_of_a_deleted_account_nothing_is_left(fern: Musician, by: str) -> None:
    fill(fern)
    before = rows()
    watch = Musician(None)
    watch.good("post", "accounts", GOOD)
    pattern = fill(watch)
    if by == "operator":
        call_command("remove_account", GOOD["username"], stdout=StringIO())
        with pytest.raises(CommandError, match="There is no account"):
            call_command("remove_account", GOOD["username"])
    else:
        assert watch.call("post", "account/departure", {"password": "wrong"})[0] == 422
        answer = watch.good("post", "account/departure", {"password": GOOD["password"]})
        assert answer["leaves"] and signed_in().good("get", "account")["leaves"]
        watch.good("delete", "account/departure")
        call_command("clear")
        assert watch.good("get", "account")["leaves"] is None
        watch.good("post", "account/departure", {"password": GOOD["password"]})
        call_command("clear")
        assert watch.call("get", "pieces")[0] == 200, "a day to think better of it"
        Departure.objects.update(at=timezone.now() - timedelta(seconds=1))
        call_command("clear")
    assert rows() == before
    assert watch.call("post", f"patterns/{pattern}/keep", {"bars": 1})[0] == 401
    assert Musician(None).call("post", "session", GOOD)[0] == 422
    watch.good("post", "accounts", GOOD)  # and the name is free


@pytest.mark.django_db(transaction=True)
def test_an_account_is_deleted_while_it_plays_in_another_window() -> None:
    for _ in range(4):
        watch = Musician("watch")
        pattern = watch.drums({"rule.pulses": 4})
        revision = watch.state(pattern)["revision"]
        segment = {"revision": revision, "at": 0, "start": 0, "end": 4}

        def play(watch: Musician = watch, pattern: int = pattern,
                 segment: dict[str, Any] = segment) -> list[int]:
            return [watch.call("post", f"patterns/{pattern}/{what}", body)[0] for what, body in [
                ("edits", {"revision": segment["revision"], "end": 4,
                           "edits": [{"do": "reroll"}]}),
                ("trail", {"key": "6f1d2c9a-52b8-4f0a-9c1e-3a7d8e5b4c62", "number": 0, "start": 0,
                           "beats": 4, "segments": [segment]}),
                ("keep", {"bars": 1})] * 2]

        found = at_once(play, lambda: call_command("remove_account", "watch", stdout=StringIO()))
        assert set(found[0]) <= {200, 409, 401, 404, 422}, found
        assert not User.objects.filter(username="watch").exists()
        assert rows("ContentType", "Permission", "Session") == dict.fromkeys(
            rows("ContentType", "Permission", "Session"), 0)


def test_recordings_are_listed_and_thrown_away_where_nothing_plays_them(
        watch: Musician, mist: Musician) -> None:
    pattern = fill(watch)
    spare = recording("FLAC")
    assert keep(watch, spare)[0] == 200
    found = watch.good("get", "account")["sounds"]
    played, unused = sorted(found, key=lambda each: not each["now"])
    assert (played["name"], played["now"], played["size"]) == (
        'Clank "3"', ["Sprinklers"], len(recording()))
    assert (unused["file"], unused["now"], unused["past"]) == (digest(spare), [], [])
    assert mist.call("delete", f"sounds/{unused['file']}")[0] == 404
    watch.good("delete", f"sounds/{unused['file']}")
    status, answer = watch.call("delete", f"sounds/{played['file']}")
    assert (status, answer["detail"]) == (
        422, "“Clank \"3\"” is played by Sprinklers; give its lanes other sounds first.")
    watch.edit(pattern, {"do": "remove_lane", "lane": "valve"})
    piece = watch.good("get", "pieces")[0]["id"]
    whole = watch.good("get", f"pieces/{piece}")
    for clip in whole["shelf"]:
        watch.good("delete", f"clips/{clip['id']}")
    for link in watch.good("get", f"pieces/{piece}/links"):
        watch.good("delete", f"links/{link['id']}")
    (left,) = watch.good("get", "account")["sounds"]
    assert (left["now"], left["past"]) == ([], ["Sprinklers"])
    watch.good("delete", f"sounds/{left['file']}")
    assert not SoundFile.objects.exists()


def test_everything_is_taken_along_in_one_file(watch: Musician, mist: Musician) -> None:
    fill(watch)
    answer = watch.client.get("/api/account/everything.zip")
    assert "nightwatch, Jolly Lattice" in answer["Content-Disposition"]
    with ZipFile(BytesIO(b"".join(answer.streaming_content))) as archive:
        assert archive.testzip() is None
        assert sorted(archive.namelist()) == [
            "READ ME.txt", "account.json", "deleted/Gone.lattice.zip",
            "pieces/Sprinklers.lattice.zip", f"sounds/{digest(recording())}.wav",
            "trail/Gone.json", "trail/Sprinklers.json"]
        piece = archive.read("pieces/Sprinklers.lattice.zip")
        said = json.loads(archive.read("account.json"))
        assert len(json.loads(archive.read("trail/Sprinklers.json"))) == 1
    assert [each["name"] for each in said["starts"]] == ["Mine"] and len(said["links"]) == 1
    back = mist.client.post("/api/piece-files?key=6f1d2c9a-52b8-4f0a-9c1e-3a7d8e5b4c63", piece,
                            content_type="application/octet-stream")
    assert [each["name"] for each in back.json()] == ["Sprinklers"]
    assert len(mist.good("get", "account")["sounds"]) == 1, "with its sound"


def test_the_demo_is_everybodys(db: None, settings: Any) -> None:
    settings.DEMO = True
    someone = Musician(None)
    someone.good("post", "session/demo")
    for call in (("post", "account/password", {"now": "a", "new": NEW}),
                 ("post", "account/departure", {"password": "a"}),
                 ("delete", "account/sign-ins", None)):
        status, answer = someone.call(*call)
        assert status == 422 and answer["detail"].startswith("The demo is open to everybody")


def test_an_operator_gives_a_new_password(watch: Musician) -> None:
    printed = StringIO()
    call_command("new_password", GOOD["username"], stdout=printed)
    assert watch.call("get", "account")[0] == 401 and not SignIn.objects.exists()
    signed_in(password=printed.getvalue().strip())
    with pytest.raises(CommandError, match="There is no account"):
        call_command("new_password", "nobody-here")
