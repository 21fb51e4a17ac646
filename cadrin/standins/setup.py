"""Which controllers stand-ins are, and by which keys they are known."""

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import orjson

from cadrin.standins.controller import Setup


@dataclass(frozen=True, slots=True)
class StandInSetup:
    """What controllers there are, and the key by which their test bench knows Cadrin."""

    controllers: tuple[Setup, ...] = ()
    bench_key: str = ""


def setup_in(file: Path) -> StandInSetup:
    """Read what there is. A file that is not there means nothing."""
    return setup_from(orjson.loads(file.read_bytes())) if file.exists() else StandInSetup()


def setup_from(told: Mapping[str, Any]) -> StandInSetup:
    """Read a setup as it is written in a file."""
    controllers = tuple(
        Setup(
            **{
                **item,
                "key": bytes.fromhex(item["key"]),
                "readers": {int(id_): name for id_, name in item["readers"].items()},
                "keypads": tuple(item.get("keypads", ())),
                **{
                    name: tuple(item.get(name, ()))
                    for name in ("cameras", "scanners", "face_readers", "without_pictures")
                },
            }
        )
        for item in told["controllers"]
    )
    return StandInSetup(controllers, told["bench_key"])
