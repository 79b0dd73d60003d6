"""Accounts, owners, and what a public service owes them."""

from typing import Any

import pytest
from django.core.cache import cache
from studio.api.tries import _place
from studio.models import SignIn

from tests.api.conftest import Musician

GOOD = {"username": "nightwatch", "password": "a-warm-greenhouse-9"}


def test_sign_up_sign_out_and_in_again(db: None) -> None:
    someone = Musician(None)
    assert someone.good("get", "session")["username"] is None
    assert someone.good("post", "accounts", GOOD)["username"] == "nightwatch"
    assert someone.good("delete", "session")["username"] is None
    assert someone.call("get", "pieces")[0] == 401
    assert someone.call("post", "session", GOOD | {"password": "wrong"}) == (
        422, {"detail": "That name and password do not go together."})
    assert someone.good("post", "session", GOOD)["username"] == "nightwatch"
    assert someone.good("get", "pieces") == []


@pytest.mark.parametrize(("fields", "about"), [
    ({"password": "12345678"}, "password"), ({"username": "a b"}, "username"),
    ({"password": "short"}, "short"), ({"username": "fern"}, "exists"),
    ({"username": ""}, "required"), ({"username": 7}, "string"),
    ({"password": " " * 12}, "different characters"), ({"username": "Admin"}, "kept for"),
    ({"username": "glass.house"}, "kept for"), ({"username": "f\u0435rn"}, "another one"),
    ({"username": "\u0441\u043e\u0440\u0430"}, "another one")])
def test_an_account_that_will_not_do_is_refused_in_a_sentence(
        fern: Musician, fields: dict[str, Any], about: str) -> None:
    status, answer = Musician(None).call("post", "accounts", GOOD | fields)
    assert status == 422
    assert about in answer["detail"]


def test_names_of_other_alphabets_are_names(db: None) -> None:
    for name in ("теплиця", "θερμοκήπιο", "温室", "Jürgen+1"):
        assert Musician(None).good("post", "accounts", GOOD | {"username": name})[
            "username"] == name


def test_guessing_passwords_is_slowed_down(fern: Musician, settings: Any) -> None:
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    someone = Musician(None)
    guesses = [someone.call("post", "session", GOOD)[0] for _ in range(25)]
    assert guesses[0] == 422
    assert guesses[-1] == 429


def test_a_forged_address_does_not_help_with_guessing(
        fern: Musician, settings: Any) -> None:
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    someone = Musician(None)
    forged = [someone.client.post("/api/session", data=GOOD | {"username": f"n{i}"},
                                  content_type="application/json",
                                  headers={"X-Forwarded-For": f"10.0.0.{i}"}).status_code
              for i in range(25)]
    assert forged[0] == 422 and forged[-1] == 429, "what a client says of itself counts nothing"


def tried(address: str, word: str = "wrong", name: str = "nightwatch") -> tuple[int, str]:
    """What one who comes from an address is told."""
    answer = Musician(None).client.post(
        "/api/session", data={"username": name, "password": word},
        content_type="application/json", REMOTE_ADDR=address)
    return answer.status_code, answer.json().get("detail", "")


def test_wrong_passwords_slow_down_who_gave_them_and_nobody_else(
        fern: Musician, settings: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    owner = Musician(None)
    owner.good("post", "accounts", GOOD)
    assert [tried("10.0.0.1")[0] for _ in range(6)] == [422] * 6
    for number in range(3):
        status, detail = tried("10.0.0.1", GOOD["password"], "NightWatch ")
        assert (status, detail) == (429, "Too many wrong passwords for this name; wait 4 seconds "
                                         "and try again."), number
    assert tried("10.0.0.2", GOOD["password"])[0] == 200, "the owner, from elsewhere"
    assert owner.call("post", "session", GOOD)[0] == 200, "and where they are signed in"
    monkeypatch.setattr("studio.api.tries.MANY", 6)
    assert [tried("10.0.0.3")[0] for _ in range(3)] == [422, 422, 429], "many addresses"
    assert tried("10.0.0.4", GOOD["password"])[0] == 200
    assert {tried("10.0.0.5", name="nobody-here")[0] for _ in range(5)} == {422}
    cache.delete(_place("name and address", "nightwatch", "10.0.0.1"))
    assert tried("10.0.0.1", GOOD["password"])[0] == 200


def test_which_names_are_here_is_told_only_a_few_times(fern: Musician) -> None:
    someone = Musician(None)
    told = [someone.call("post", "accounts", GOOD | {"username": "FERN"})[0] for _ in range(12)]
    assert told == [422] * 10 + [429] * 2


def test_nobody_is_signed_in_from_elsewhere(db: None, settings: Any) -> None:
    settings.DEMO = True
    stranger = Musician(None)
    stranger.client.handler.enforce_csrf_checks = True
    for path, body in (("session", GOOD), ("accounts", GOOD), ("session/demo", None)):
        assert stranger.call("post", path, body) == (
            403, {"detail": "This page is out of date; load it again."})
    assert stranger.client.cookies.get("sessionid") is None


def test_opening_the_demo_again_makes_no_new_session_and_has_an_end(
        db: None, settings: Any) -> None:
    settings.DEMO = True
    someone = Musician(None)
    for _ in range(5):
        someone.good("post", "session/demo")
    assert SignIn.objects.count() == 1
    statuses = [Musician(None).call("post", "session/demo")[0] for _ in range(40)]
    assert statuses[0] == 200 and statuses[-1] == 429
    assert SignIn.objects.count() <= 30


def test_the_demo_opens_only_where_it_is_offered(db: None, settings: Any) -> None:
    settings.DEMO = False
    someone = Musician(None)
    assert someone.good("get", "session")["demo"] is False
    assert someone.call("post", "session/demo")[0] == 404
    settings.DEMO = True
    assert someone.good("post", "session/demo")["username"] == "glasshouse"


def test_what_belongs_to_another_is_not_there(fern: Musician, mist: Musician) -> None:
    piece = fern.piece()
    pattern = fern.drums({"rule.kind": "euclid"})
    revision = fern.state(pattern)["revision"]
    clip = fern.good("post", f"patterns/{pattern}/keep", {"bars": 1})["id"]
    wanted = {"revision": revision, "edits": [], "end": 4}
    heard = {"key": "7f3a6a52-58b4-4d5c-9a4e-53a8f3f3b1c0", "number": 0, "start": 0, "beats": 4,
             "segments": [{"revision": revision, "at": 0, "start": 0, "end": 4}]}
    attempts = [
        ("get", f"pieces/{piece['id']}", None), ("delete", f"pieces/{piece['id']}", None),
        ("patch", f"pieces/{piece['id']}", {"name": "mine"}),
        ("post", f"pieces/{piece['id']}/duplicate", None),
        ("post", f"pieces/{piece['id']}/restore", None),
        ("post", f"pieces/{piece['id']}/patterns", {"name": "mine"}),
        ("get", f"pieces/{piece['id']}/clips.zip", None),
        ("patch", f"patterns/{pattern}", {"name": "mine"}), ("delete", f"patterns/{pattern}", None),
        ("post", f"patterns/{pattern}/state", {"end": 4}),
        *(("post", f"patterns/{pattern}/{verb}", wanted)
          for verb in ("look", "edits", "undo", "redo")),
        ("post", f"patterns/{pattern}/why", {"revision": revision, "lane": "pump", "at": 0}),
        ("get", f"patterns/{pattern}/trail", None), ("post", f"patterns/{pattern}/trail", heard),
        ("post", f"patterns/{pattern}/keep", {"bars": 1}),
        ("get", f"clips/{clip}/midi", None), ("patch", f"clips/{clip}", {"name": "mine"}),
        ("delete", f"clips/{clip}", None), ("post", f"clips/{clip}/restore", None),
    ]
    for attempt in attempts:
        assert mist.call(*attempt)[0] == 404, attempt
        assert Musician(None).call(*attempt)[0] == 401, attempt
    own = mist.drums({"rule.kind": "euclid"})
    assert mist.call("post", f"patterns/{own}/look", wanted)[0] == 404, "another's revision"
    assert mist.call("post", f"patterns/{own}/trail", heard)[0] == 422
    assert fern.state(pattern)["revision"] == revision


def test_a_request_without_its_token_is_turned_away(fern: Musician) -> None:
    fern.client.handler.enforce_csrf_checks = True
    status, answer = fern.call("post", "pieces", {"name": "forged"})
    assert (status, answer) == (403, {"detail": "This page is out of date; load it again."})
    page = fern.client.get("/pieces/1")
    token = page.cookies["csrftoken"].value
    made = fern.client.post("/api/pieces", {"name": "mine"}, content_type="application/json",
                            headers={"X-CSRFToken": token})
    assert made.status_code == 200
    policy = page.headers["Content-Security-Policy"]
    assert "default-src 'self'" in policy and "frame-ancestors 'none'" in policy


def test_who_signed_in_lately_is_remembered_only_for_looking(
        fern: Musician, mist: Musician, monkeypatch: pytest.MonkeyPatch,
        django_assert_num_queries: Any) -> None:
    pattern = fern.drums({"rule.pulses": 4})
    body = {"revision": fern.state(pattern)["revision"], "end": 4}
    fern.good("post", f"patterns/{pattern}/look", body)
    with django_assert_num_queries(0):
        fern.good("post", f"patterns/{pattern}/look", body)
        fern.good("post", f"patterns/{pattern}/why", body | {"lane": "pump", "at": 0})
    assert mist.call("post", f"patterns/{pattern}/look", body)[0] == 404, "another's memory"
    # A session that ends elsewhere is found out after a moment; one that ends here, at once.
    SignIn.objects.filter(pk=fern.client.cookies["sessionid"].value).delete()
    assert fern.call("post", f"patterns/{pattern}/edits", body)[0] == 401
    monkeypatch.setattr("studio.api.signed_in.SECONDS", 0)
    assert fern.call("post", f"patterns/{pattern}/look", body)[0] == 401
    monkeypatch.undo()
    mine = mist.drums({"rule.pulses": 4})
    body = {"revision": mist.state(mine)["revision"], "end": 4}
    cookie = mist.client.cookies["sessionid"].value
    mist.good("post", f"patterns/{mine}/look", body)
    mist.good("delete", "session")
    mist.client.cookies["sessionid"] = cookie
    assert mist.call("post", f"patterns/{mine}/look", body)[0] == 401
