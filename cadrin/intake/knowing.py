"""What the site knows, as far as the cells of a file can name it."""

from collections.abc import Callable, Iterable
from datetime import datetime
from functools import lru_cache

from cadrin.access.queries import group_choices
from cadrin.core.intake.cells import CardFound, Known
from cadrin.core.intake.choices import Choices
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.people.names import fold
from cadrin.core.schedules import zone_named
from cadrin.credentials.queries import Investigator, facility_codes, formats
from cadrin.operators.actor import Actor
from cadrin.people.lists import companies, custom_fields, departments, kinds
from cadrin.people.queries import rules
from cadrin.sites.queries import home_site

STANDINGS = {
    "active": "active current aktiv actif activo attivo actief aktywny",
    "suspended": "suspended paused ausgesetzt vorubergehend suspendu suspendido sospeso geschorst",
    "barred": "barred banned gesperrt hausverbot interdit bloqueado bloccato geweigerd",
    "departed": "departed left leaver terminated inactive ausgeschieden inaktiv parti baja cessato vertrokken",
}
"""Words for standings as other systems write them (common practice), folded."""
LANGUAGES = {
    "en": "english englisch anglais", "de": "german deutsch allemand", "fr": "french franzosisch francais",
    "nl": "dutch niederlandisch nederlands", "nb": "norwegian norwegisch norsk no", "da": "danish danisch dansk",
    "sv": "swedish schwedisch svenska", "pl": "polish polnisch polski", "pt": "portuguese portugiesisch portugues",
    "es": "spanish spanisch espanol", "it": "italian italienisch italiano", "uk": "ukrainian ukrainisch",
}  # fmt: skip
PARTS_OF_PATHS = (" / ", "/", " > ", ">", "\\")
"""How the departments of a path are parted."""


def what_is_known(actor: Actor, choices: Choices, at: datetime) -> Known:
    """Return what the cells of a file may name, within the actor's reach."""
    register_rules = rules(actor.language)
    defaults = choices.defaults
    codes = facility_codes()
    return Known(
        zone=zone_named(home_site()["zone"]),
        this_year=at.year,
        departments=_departments(actor),
        companies=_named(
            (row["id"], row[name]) for row in companies(actor) for name in ("name", "short_name")
        ),
        kinds=_named((row["id"], row["name"]) for row in kinds()),
        groups=_named((row["id"], row["name"]) for row in group_choices(actor)),
        standings=_words(STANDINGS),
        languages=_words(LANGUAGES),
        custom_fields={field.id: field for field in register_rules.custom_fields},
        choices=_choices_of_fields(),
        formats=formats(),
        facility_codes=codes,
        format_id=defaults.format_id,
        facility_code=defaults.facility_code,
        explain=_detective(),
    )


def _named(pairs: Iterable[tuple[int, str]]) -> dict[str, tuple[int, ...]]:
    found: dict[str, tuple[int, ...]] = {}
    for id_, name in pairs:
        key = fold(name)
        if key and id_ not in found.get(key, ()):
            found[key] = (*found.get(key, ()), id_)
    return found


def _departments(actor: Actor) -> dict[str, tuple[int, ...]]:
    """Name departments by name, by number, and by the path that leads to them."""
    paths: dict[int, tuple[str, ...]] = {}
    pairs: list[tuple[int, str]] = []
    for row in departments(actor):
        path = (*paths.get(row["parent_id"] or 0, ()), row["name"])
        paths[row["id"]] = path
        pairs += [(row["id"], row["name"]), (row["id"], row["number"])]
        if len(path) > 1:
            pairs += [(row["id"], between.join(path)) for between in PARTS_OF_PATHS]
    return _named(pairs)


def _words(of: dict[str, str]) -> dict[str, str]:
    return {word: key for key, words in of.items() for word in (key, *words.split())}


def _choices_of_fields() -> dict[int, dict[str, str]]:
    return {
        row["id"]: {
            fold(label): choice["key"]
            for choice in row["choices"]
            for label in (choice["key"], *choice["labels"].values())
        }
        for row in custom_fields()
        if row["type"] == FieldType.CHOICE
    }


def _detective() -> Callable[[str], tuple[CardFound, ...]]:
    investigator = Investigator()

    @lru_cache(maxsize=20_000)
    def explain(text: str) -> tuple[CardFound, ...]:
        """Return the one card that is likelier than every other, or those that are as likely."""
        found = investigator.explain(text)
        best = [item for item in found if item.weight == found[0].weight]
        return tuple((item.format_id, *item.numbers) for item in best)

    return explain
