"""A practice pour that somebody went through before: a fast batter, followed as the screen said, with its debrief.

Nothing of a practice is kept in the data file, so it is poured anew whenever the demo is opened: by the handlers that
every practice goes through, once somebody asks for practices.
"""

from collections.abc import Callable
from random import Random
from threading import Event, Lock, Thread
from typing import Any
from uuid import UUID, uuid5

from flask import Flask, request

from ..core.shelf import STAGES
from ..web.context import AppContext
from ..web.messages import StartPractice
from ..web.practice import dealt

SHOWN = "5107e000-0000-4000-8000-000900000001"
SEED, KEYS = 5, 50  # of the batter; and how many keys are pressed at most
PATIENCE_TO_END = 2.0  # s that the key in hand is given
FETCH, PATIENCE = 0.15, 3.0  # minutes between two keys, and what is waited for at most at once


def practise(app: Flask) -> Callable[[], None]:
    """Pour it beside an app, in its memory, once its practices are asked for; what comes back ends it."""
    over, first = Event(), Lock()

    def pour() -> None:
        try:
            _pour(app, over)
        except RuntimeError:
            if not over.is_set():  # the workshop is closed under it when the app ends, and only then
                raise

    thread = Thread(target=pour, daemon=True, name="practice")

    @app.before_request
    def begin() -> None:
        if request.path.startswith("/api/practice") and first.acquire(blocking=False):
            thread.start()

    def end() -> None:
        over.set()
        if thread.is_alive():
            thread.join(PATIENCE_TO_END)

    return end


def _pour(app: Flask, over: Event) -> None:
    context: AppContext = app.extensions["context"]
    practice = dealt(context, StartPractice(temper="fast", seed=SEED), Random(SEED), SHOWN)
    client, path, told = app.test_client(), f"/api/practice/{SHOWN}", 0

    def tap(**event: Any) -> dict[str, Any]:
        nonlocal told
        told += 1
        event = {"minute": 0, "sure": True, **event, "id": str(uuid5(UUID(SHOWN), str(told)))}
        return dict(client.post(f"{path}/events", json={"event": event}).get_json())

    view: dict[str, Any] = dict(client.get(path).get_json())
    for _ in range(KEYS):
        if view["ended"] is not None or over.is_set():
            return
        practice.minute += FETCH
        many = any(x["event"]["kind"] == "split" for x in view["events"])
        levels = {lane["portion"]: lane["level"] for lane in view["bench"]["lanes"]}
        for sight in client.get(f"{path}/sights").get_json()["seen"][: None if many else 1]:
            if sight["stage"] > max(levels.get(sight["portion"], 0), 0 if many else 1):
                name = sight["portion"] if many else None
                view = tap(kind="seen", stage=STAGES[sight["stage"]], portion=name)
        said = view["advice"]
        if said["do"] in ("gate", "wait") and said["minutes"]:
            practice.minute += min(said["minutes"], PATIENCE)
            view = dict(client.get(path).get_json())
            continue
        view = tap(**view["bench"]["keys"][0]["event"])
    tap(kind="ended")
