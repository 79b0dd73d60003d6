"""A signed-in musician, as seen by the API."""

from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.test import Client


class Musician:
    """Somebody at the API: `call` answers with the status and what the JSON says."""

    def __init__(self, name: str | None) -> None:
        self.client = Client(HTTP_HOST="127.0.0.1")
        if name is not None:
            user, _ = get_user_model().objects.get_or_create(username=name)
            self.client.force_login(user)

    def call(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        content = {"data": "" if body is None else body, "content_type": "application/json"}
        answer = getattr(self.client, method)(f"/api/{path}", **content)
        is_json = answer.headers.get("Content-Type", "").startswith("application/json")
        return answer.status_code, answer.json() if is_json and answer.content else answer.content

    def good(self, method: str, path: str, body: Any = None) -> Any:
        """What the API answers, which is no refusal."""
        status, answer = self.call(method, path, body)
        assert status < 300, (path, status, answer)
        return answer

    def piece(self, name: str = "Sprinklers") -> dict[str, Any]:
        """A new piece; its first pattern's id is under "pattern"."""
        made = self.good("post", "pieces", {"name": name})
        return made | {"pattern": made["patterns"][0]["id"]}

    def state(self, pattern: int, **more: Any) -> dict[str, Any]:
        return self.good("post", f"patterns/{pattern}/state", {"end": 4} | more)

    def edit(self, pattern: int, *edits: dict[str, Any], **more: Any) -> dict[str, Any]:
        """The state after edits on the newest revision."""
        revision = self.state(pattern)["revision"]
        return self.good("post", f"patterns/{pattern}/edits",
                         {"revision": revision, "edits": list(edits), "end": 4} | more)

    def drums(self, *rules: dict[str, Any]) -> int:
        """A pattern with a lane for each rule: lane ids pump, valve, drip."""
        pattern = self.piece()["pattern"]
        for name, note, rule in zip(("Pump", "Valve", "Drip"), (36, 38, 42), rules, strict=False):
            self.edit(pattern, {"do": "add_lane", "note": note, "name": name})
            lane = name.lower()
            self.edit(pattern, *({"do": "set", "lane": lane, "slot": slot, "value": value}
                                 for slot, value in rule.items()))
        return pattern


@pytest.fixture(autouse=True)
def _fresh_throttle(db: None) -> None:
    cache.clear()


@pytest.fixture
def fern(db: None) -> Musician:
    return Musician("fern")


@pytest.fixture
def mist(db: None) -> Musician:
    return Musician("mist")
