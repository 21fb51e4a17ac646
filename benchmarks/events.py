"""A trial: news as server-sent events (WHATWG HTML, 9.2) from a process of its own, which asks
nobody who they are.

``python -m benchmarks.events DATABASE PORT``. It is the limit that Cadrin's own way is measured
beside.
"""

import asyncio
import sqlite3
import sys
from collections.abc import AsyncIterator

import uvicorn
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import StreamingResponse
from starlette.routing import Route

LOOKED_FOR_EVERY_SECONDS = 0.05


class News:
    """The newest read, looked for once for everybody who listens."""

    def __init__(self, database: str) -> None:
        self._database = sqlite3.connect(database)
        self._rung = asyncio.Condition()
        self.latest = self._newest()

    def _newest(self) -> int:
        return int(
            self._database.execute("SELECT coalesce(max(id), 0) FROM activity_read").fetchone()[0]
        )

    async def look(self) -> None:
        version = None
        while True:
            if (now := self._database.execute("PRAGMA data_version").fetchone()) != version:
                version = now
                async with self._rung:
                    self.latest = self._newest()
                    self._rung.notify_all()
            await asyncio.sleep(LOOKED_FOR_EVERY_SECONDS)

    async def after(self, seen: int) -> int:
        async with self._rung:
            await self._rung.wait_for(lambda: self.latest > seen)
            return self.latest


def main() -> None:
    database, port = sys.argv[1:]

    async def serve() -> None:
        news = News(database)
        looking = asyncio.create_task(news.look())

        async def lines() -> AsyncIterator[str]:
            seen = news.latest
            yield ": listening\n\n"
            while True:
                seen = await news.after(seen)
                yield f"data: {seen}\n\n"

        async def answer(_request: Request) -> StreamingResponse:
            return StreamingResponse(lines(), media_type="text/event-stream")

        app = Starlette(routes=[Route("/", answer)])
        await uvicorn.Server(
            uvicorn.Config(app, port=int(port), log_level="warning", lifespan="off")
        ).serve()
        looking.cancel()

    asyncio.run(serve())


if __name__ == "__main__":
    main()
