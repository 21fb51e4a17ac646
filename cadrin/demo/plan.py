"""Plans of the demo's sites, drawn by Cadrin: the first as a picture of rooms on a headland, the others
as areas that are drawn on the plan, with doors on their walls.
"""

import io
from datetime import datetime

from PIL import Image, ImageDraw, ImageFont

from cadrin.operators.actor import Actor
from cadrin.sites.commands.plans import Drawn, Place, draw_plan, set_plan_picture
from cadrin.sites.models import Area, Door, Site, SitePlan

WIDTH, HEIGHT = 1600, 1000
COLUMNS, MARGIN, GAP = 3, 90, 70
SEA, LAND, WALL, FLOOR, INK = "#dfe6ea", "#f1ede2", "#8b8778", "#fbfaf6", "#4a4660"
Room = tuple[int, int, int, int]


def draw_plans(actor: Actor, at: datetime) -> None:
    """Draw the plan of each site and put its doors on it."""
    sites = list(Site.objects.order_by("id"))
    first = sites[0]
    for site in sites:
        areas = list(Area.objects.filter(site=site).order_by("id"))
        rooms = dict(zip((area.pk for area in areas), _rooms(len(areas)), strict=True))
        drawn = []
        if site.pk == first.pk:
            picture = _drawn({area.name: rooms[area.pk] for area in areas})
            set_plan_picture(actor, site.pk, picture, at)
        else:
            drawn = [_area(id_, room) for id_, room in rooms.items()]
        plan = SitePlan.objects.filter(site=site).first()
        draw_plan(actor, site.pk, _places(rooms), drawn, plan.version if plan else 1, at)


def _area(id_: int, room: Room) -> Drawn:
    left, top, right, bottom = room
    x, y = round(1000 * left / WIDTH), round(1000 * top / HEIGHT)
    return Drawn(
        id_, x, y, round(1000 * (right - left) / WIDTH), round(1000 * (bottom - top) / HEIGHT)
    )


def _rooms(count: int) -> list[Room]:
    rows = -(-count // COLUMNS)
    wide = (WIDTH - 2 * MARGIN - (COLUMNS - 1) * GAP) // COLUMNS
    high = (HEIGHT - 2 * MARGIN - (rows - 1) * GAP) // max(rows, 1)
    found = []
    for place in range(count):
        left = MARGIN + place % COLUMNS * (wide + GAP)
        top = MARGIN + place // COLUMNS * (high + GAP)
        found.append((left, top, left + wide, top + high))
    return found


def _drawn(rooms: dict[str, Room]) -> bytes:
    picture = Image.new("RGB", (WIDTH, HEIGHT), SEA)
    pen = ImageDraw.Draw(picture)
    pen.rounded_rectangle((30, 30, WIDTH - 30, HEIGHT - 30), 120, fill=LAND)
    font = ImageFont.load_default(size=26)
    for name, (left, top, right, bottom) in rooms.items():
        pen.rectangle((left, top, right, bottom), fill=FLOOR, outline=WALL, width=6)
        pen.text(((left + right) / 2, (top + bottom) / 2), name, fill=INK, font=font, anchor="mm")
    written = io.BytesIO()
    picture.save(written, "PNG")
    return written.getvalue()


def _places(rooms: dict[int, Room]) -> list[Place]:
    found = []
    for area_id, (left, top, right, bottom) in rooms.items():
        ids = list(Door.objects.filter(area=area_id).order_by("id").values_list("id", flat=True))
        for place, id_ in enumerate(ids):
            in_row = (len(ids) + 1 - place % 2) // 2
            share = place // 2 / (in_row - 1) if in_row > 1 else 0.5
            x = left + (right - left) * (0.2 + 0.6 * share)
            y = top if place % 2 == 0 else bottom
            found.append(Place(id_, round(1000 * x / WIDTH), round(1000 * y / HEIGHT)))
    return found
