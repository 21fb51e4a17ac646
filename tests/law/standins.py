"""Stand-ins in this process, and the wire to them."""

from datetime import datetime
from typing import Any, Protocol

import orjson

from cadrin.delivery.wire import NoAnswer, Wire
from cadrin.standins.controller import Controller as StandIn


class HasNow(Protocol):
    now: datetime


class ShortWire(Wire):
    """A wire to a stand-in in this process: what is said is written and read as on the line,
    without a socket.
    """

    def __init__(self, standin: StandIn) -> None:
        super().__init__("", b"")
        self.standin = standin

    def _say(self, method: str, path: str, said: bytes, deadline: float) -> dict[str, Any]:
        if not self.standin.is_on:
            raise NoAnswer("no_connection")
        state = self.standin.state
        if path == "digests":
            answer = state() | {"digests": self.standin.digests()}
        elif path == "records":
            body = orjson.loads(said)
            answer = self.standin.take(
                [(key, record) for key, record in body["put"]], body["remove"]
            )
            answer = state() | answer
        else:
            asked = dict(pair.split("=") for pair in path.partition("?")[2].split("&"))
            answer = state() | {"events": self.standin.events(asked["store"], int(asked["after"]))}
        told: dict[str, Any] = orjson.loads(orjson.dumps(answer))
        return told


class PatientStandIn(StandIn):
    """A stand-in whose clock is the world's, and whose keypads forget what was typed wrong."""

    world: HasNow

    def clock(self) -> datetime:
        return self.world.now

    def unlock_keypads(self) -> None:
        self._keypads.clear()
