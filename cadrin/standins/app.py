"""The stand-ins over HTTP: what Cadrin says to controllers, and what the test bench does
to them.
"""

import asyncio
import hmac
from base64 import b64encode
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager, suppress
from datetime import datetime
from io import BytesIO
from pathlib import Path
from typing import Any

from starlette.applications import Starlette
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException
from starlette.requests import ClientDisconnect, Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from cadrin.core.made_up.showing import FaceShown, face_seed_of, show_face
from cadrin.standins.bodies import LONGEST_DELAY_SECONDS, Shown, json_in, presented_in, shown
from cadrin.standins.boxes import Boxes, found_as, memory_of
from cadrin.standins.controller import Controller
from cadrin.standins.house import Move
from cadrin.standins.mail import MailServer
from cadrin.standins.setup import StandInSetup
from cadrin.standins.talks import SIGNATURE, NotHeard

LONGEST_WAIT_SECONDS = 20.0
LOOKS_AT_DOORS_SECONDS = 0.5
STRANGERS = ("Ewan Tarbet", "Sunniva Dahl", "Piran Locke")
"""Whom a controller that was used elsewhere may still know."""


def application(
    setup: StandInSetup, folder: Path | None = None, mail: MailServer | None = None
) -> Starlette:
    """Return the stand-ins as an application; ``folder`` is where their memories lie, None for in
    this process.

    ``mail`` is the mail server beside them, which the test bench shows and switches.
    """
    if folder is not None:
        folder.mkdir(parents=True, exist_ok=True)
    boxes = Boxes(folder)
    controllers = {
        s.id: Controller(s, memory_of(folder, s.id)) for s in (*setup.controllers, *boxes.claimed())
    }
    bench = _Bench(controllers, setup.bench_key, mail, boxes)
    return Starlette(
        routes=[
            Route("/controllers/{id:int}/conversation", bench.begin, methods=["POST"]),
            Route("/search", bench.search),
            Route("/controllers/{id:int}/claim", bench.claim, methods=["POST"]),
            Route("/controllers/{id:int}/state", bench.heard(bench.state)),
            Route("/controllers/{id:int}/clock", bench.heard(bench.set_clock), methods=["POST"]),
            Route("/controllers/{id:int}/digests", bench.heard(bench.digests)),
            Route("/controllers/{id:int}/records", bench.heard(bench.records), methods=["POST"]),
            Route("/controllers/{id:int}/people", bench.heard(bench.people), methods=["POST"]),
            Route("/controllers/{id:int}/events", bench.heard(bench.events)),
            Route(
                "/controllers/{id:int}/doors/{door:int}",
                bench.heard(bench.act_at_door),
                methods=["POST"],
            ),
            Route("/controllers/{id:int}/doors/{door:int}/picture", bench.heard(bench.picture)),
            Route("/bench", bench.known(bench.everything)),
            Route("/bench/reads", bench.known(bench.present), methods=["POST"]),
            Route("/bench/rehearsals", bench.known(bench.rehearse), methods=["POST"]),
            Route("/bench/controllers", bench.known(bench.unbox), methods=["POST"]),
            Route(
                "/bench/controllers/{id:int}/doors/{door:int}",
                bench.known(bench.move_door),
                methods=["POST"],
            ),
            Route("/bench/mail", bench.known(bench.switch_mail), methods=["PATCH"]),
            Route("/bench/controllers/{id:int}", bench.known(bench.switch), methods=["PATCH"]),
            Route(
                "/bench/controllers/{id:int}/strangers",
                bench.known(bench.put_strangers),
                methods=["POST"],
            ),
            Route(
                "/bench/controllers/{id:int}/store", bench.known(bench.empty), methods=["DELETE"]
            ),
        ],
        lifespan=bench.minding_doors,
    )


Answer = Callable[[Request], Awaitable[Response]]


class _Bench:
    def __init__(
        self, controllers: dict[int, Controller], key: str, mail: MailServer | None, boxes: Boxes
    ) -> None:
        self._controllers = controllers
        self._boxes = boxes
        self._key = key
        self._mail = mail
        self._arrived = {id_: asyncio.Event() for id_ in controllers}

    async def _answering(self, request: Request) -> Controller:
        """Return the controller, once it answers: one that is off never does, a slow one late."""
        controller = self._controller(request)
        if controller.delay_seconds:
            await asyncio.sleep(controller.delay_seconds)
        if not controller.is_on:
            raise HTTPException(503, "switched off")
        return controller

    def _controller(self, request: Request) -> Controller:
        controller = self._controllers.get(request.path_params["id"])
        if controller is None:
            raise HTTPException(404, "no such controller")
        return controller

    def heard(self, answer: Answer) -> Answer:
        """Listen to Cadrin alone, and sign what is answered: to whom else it is, and is not, a
        controller's word.
        """

        async def signed(request: Request) -> Response:
            controller = self._controller(request)
            try:
                body = await request.body()
            except ClientDisconnect:  # it was ended while it spoke: nothing was said
                return Response(status_code=400)
            target = (
                "/"
                + request.url.path.split("/", 3)[3]
                + (f"?{request.url.query}" if request.url.query else "")
            )
            try:
                talk, number = controller.talks.hear(request.headers, request.method, target, body)
            except NotHeard as refusal:
                return JSONResponse({"refused": refusal.why.value}, 401)
            response = await answer(request)
            response.headers[SIGNATURE] = talk.sign(
                number, response.status_code, bytes(response.body)
            )
            return response

        return signed

    def known(self, answer: Answer) -> Answer:
        """Let nobody use the test bench who has not its key: a web page could send a read, but
        knows no key.
        """

        async def kept(request: Request) -> Response:
            told = request.headers.get("Authorization", "").removeprefix("Bearer ")
            if not self._key or not hmac.compare_digest(told.encode(), self._key.encode()):
                raise HTTPException(401, "the test bench is Cadrin's alone")
            return await answer(request)

        return kept

    async def begin(self, request: Request) -> Response:
        controller, said = await self._answering(request), await json_in(request)
        return JSONResponse(controller.talks.begin(str(said.get("nonce", ""))[:100]))

    # -- for Cadrin --------------------------------------------------------------------------

    async def search(self, request: Request) -> Response:
        """Answer whoever looks for controllers: each that is on says what it is, and nothing that it
        holds.
        """
        there = [c.setup for c in self._controllers.values() if c.is_on and not c.setup.is_desk]
        known = [found_as(setup, is_claimed=True) for setup in there]
        return JSONResponse({"controllers": [*known, *self._boxes.waiting()]})

    async def claim(self, request: Request) -> Response:
        """Take the first key that is given to a controller out of its box; then it knows Cadrin by it."""
        number, said = request.path_params["id"], await json_in(request)
        try:
            key = bytes.fromhex(said["key"])
        except (KeyError, TypeError, ValueError) as error:
            raise HTTPException(400, "no key") from error
        known = self._controllers.get(number)
        if known is None and (setup := self._boxes.claim(number, key)):
            known = Controller(setup, memory_of(self._boxes.folder, number))
            self._controllers[number] = known
            self._arrived[number] = asyncio.Event()
        if known is None:
            raise HTTPException(404, "no such controller")
        if not hmac.compare_digest(known.setup.key, key):
            raise HTTPException(409, "it knows somebody else")
        return JSONResponse(found_as(known.setup, is_claimed=True))

    async def state(self, request: Request) -> Response:
        return JSONResponse((await self._answering(request)).state())

    async def set_clock(self, request: Request) -> Response:
        body = await json_in(request)
        controller = await self._answering(request)
        try:
            controller.set_clock(datetime.fromisoformat(body["at"]))
        except (KeyError, TypeError, ValueError) as error:
            raise HTTPException(400, "at is an instant") from error
        return JSONResponse(controller.state())

    async def digests(self, request: Request) -> Response:
        controller = await self._answering(request)
        return JSONResponse({**controller.state(), "digests": controller.digests()})

    async def records(self, request: Request) -> Response:
        body = await json_in(request)
        controller = await self._answering(request)
        try:
            answer = controller.take(body.get("put", []), body.get("remove", []))
        except (TypeError, ValueError) as error:
            raise HTTPException(400, "not a list of records") from error
        return JSONResponse({**controller.state(), **answer})

    async def people(self, request: Request) -> Response:
        body = await json_in(request)
        controller = await self._answering(request)
        keys = body.get("keys", [])
        if not isinstance(keys, list) or not all(isinstance(key, str) for key in keys):
            raise HTTPException(400, "keys are a list of texts")
        return JSONResponse({**controller.state(), "people": controller.people(keys)})

    async def act_at_door(self, request: Request) -> Response:
        """Unlock a door once, or let in whoever asked for it there."""
        body = await json_in(request)
        controller = await self._answering(request)
        door_id, act = request.path_params["door"], body.get("act")
        if act not in ("release", "consent") or not controller.house.has_door(door_id):
            raise HTTPException(400, "no such act, or no such door")
        is_done, at = True, controller.clock()
        if act == "release":
            controller.house.release(door_id, at)
        else:
            is_done = controller.house.consent(door_id, at)
            self._arrived[controller.setup.id].set()
        return JSONResponse({**controller.state(), "is_done": is_done})

    async def picture(self, request: Request) -> Response:
        """Return what the camera at a door sees: whoever asks there to be let in, drawn once more."""
        controller = await self._answering(request)
        somebody = controller.house.who_asks(request.path_params["door"])
        if somebody is None:
            raise HTTPException(404, "nobody asks to be let in there")
        file = BytesIO()
        shown = await run_in_threadpool(show_face, face_seed_of(somebody), FaceShown.AS_IT_IS)
        shown.save(file, "JPEG", quality=85)
        return JSONResponse({**controller.state(), "picture": b64encode(file.getvalue()).decode()})

    async def events(self, request: Request) -> Response:
        controller = await self._answering(request)
        asked = request.query_params
        try:
            store, after = asked.get("store", ""), int(asked.get("after", 0))
            wait_seconds = min(float(asked.get("wait_seconds", 0)), LONGEST_WAIT_SECONDS)
        except ValueError as error:
            raise HTTPException(400, "after and wait_seconds are numbers") from error
        arrived = self._arrived[controller.setup.id]
        arrived.clear()
        found = controller.events(store, after)
        if not found and wait_seconds > 0:
            with suppress(TimeoutError):
                await asyncio.wait_for(arrived.wait(), wait_seconds)
            found = controller.events(store, after)
        return JSONResponse({**controller.state(), "events": found})

    # -- for the test bench ------------------------------------------------------------------

    async def everything(self, request: Request) -> Response:
        controllers = [shown(controller) for controller in self._controllers.values()]
        waiting = [box["number"] for box in self._boxes.waiting()]
        return JSONResponse(
            {
                "controllers": controllers,
                "boxes": waiting,
                "mail": self._mail.shown() if self._mail else None,
            }
        )

    async def present(self, request: Request) -> Response:
        reader_id, evidence, finger, face = await _presented(await json_in(request))
        controller = self._at(reader_id)
        if evidence.typed is not None and not controller.has("keypads", reader_id):
            raise HTTPException(400, "that reader has no keypad")
        if evidence.plate is not None and not controller.has("cameras", reader_id):
            raise HTTPException(400, "that reader has no camera")
        if finger is not None and not controller.has("scanners", reader_id):
            raise HTTPException(400, "that reader takes no fingers")
        if face is not None and not controller.has("face_readers", reader_id):
            raise HTTPException(400, "that reader takes no faces")
        if not controller.is_on:
            return JSONResponse({"is_on": False})
        event = controller.present(reader_id, evidence, finger, face)
        for sealed in ("typed", "tried", "press"):  # for Cadrin alone
            event.pop(sealed, None)
        self._arrived[controller.setup.id].set()
        return JSONResponse({"is_on": True, **event})

    async def move_door(self, request: Request) -> Response:
        controller, body = self._controller(request), await json_in(request)
        try:
            move = Move(body["move"])
        except (KeyError, ValueError) as error:
            raise HTTPException(400, "a door is opened or shut, or its button pressed") from error
        door_id = request.path_params["door"]
        if not controller.house.has_door(door_id):
            raise HTTPException(404, "no such door")
        controller.house.move(door_id, move, controller.clock())
        self._arrived[controller.setup.id].set()
        return JSONResponse(shown(controller))

    @asynccontextmanager
    async def minding_doors(self, app: Starlette) -> AsyncIterator[None]:
        """Look at the doors again and again while the stand-ins run."""
        task = asyncio.create_task(self._mind_doors())
        yield
        task.cancel()

    async def _mind_doors(self) -> None:
        while True:
            await asyncio.sleep(LOOKS_AT_DOORS_SECONDS)
            for controller in list(self._controllers.values()):
                if controller.house.tell_of_held_doors(controller.clock()):
                    self._arrived[controller.setup.id].set()

    async def rehearse(self, request: Request) -> Response:
        verdicts = []
        for asked in (await json_in(request)).get("reads", []):
            reader_id, evidence, *_ = await _presented(asked)
            at = datetime.fromisoformat(asked["at"])
            verdicts.append(self._at(reader_id).rehearse(reader_id, evidence, at))
        return JSONResponse({"verdicts": verdicts})

    async def switch(self, request: Request) -> Response:
        controller, asked = self._controller(request), await json_in(request)
        try:
            if "is_on" in asked:
                controller.is_on = bool(asked["is_on"])
            if "delay_seconds" in asked:
                controller.delay_seconds = min(
                    max(float(asked["delay_seconds"]), 0.0), LONGEST_DELAY_SECONDS
                )
            if "clock_off_seconds" in asked:
                controller.clock_off_seconds = int(asked["clock_off_seconds"])
        except (TypeError, ValueError) as error:
            raise HTTPException(400, "delay_seconds and clock_off_seconds are numbers") from error
        return JSONResponse(shown(controller))

    async def switch_mail(self, request: Request) -> Response:
        if self._mail is None:
            raise HTTPException(404, "no mail server")
        self._mail.is_on = bool((await json_in(request)).get("is_on"))
        return JSONResponse(self._mail.shown())

    async def empty(self, request: Request) -> Response:
        controller = self._controller(request)
        controller.empty()
        if self._boxes.forget_key(controller.setup.id):  # as new: it takes another key
            del self._controllers[controller.setup.id]
        return JSONResponse(shown(controller))

    async def unbox(self, request: Request) -> Response:
        return JSONResponse({"number": self._boxes.unbox()})

    async def put_strangers(self, request: Request) -> Response:
        controller = self._controller(request)
        controller.put_strangers(STRANGERS)
        return JSONResponse(shown(controller))

    def _at(self, reader_id: int) -> Controller:
        for controller in self._controllers.values():
            if reader_id in controller.readers():
                return controller
        raise HTTPException(404, "no such reader")


async def _presented(asked: dict[str, Any]) -> Shown:
    """Read what is presented. A finger takes a second to be made up: meanwhile the others go on."""
    if asked.get("finger") or asked.get("face"):
        return await asyncio.to_thread(presented_in, asked)
    return presented_in(asked)
