"""What somebody agrees to: versions of the wording, in each language of the screen."""

from datetime import datetime

from cadrin.biometrics.models import ConsentWording

FIRST: dict[str, str] = {
    "en": (
        "I agree that a template of my fingers and, where ticked, of my face is made and kept to "
        "open doors here. A template is a list of numbers; pictures are not kept. It is sent only "
        "to readers that need it. I can withdraw this at any time, without a reason and without "
        "disadvantage: then my templates are removed everywhere and I use a card instead."
    ),
    "de": (
        "Ich bin einverstanden, dass von meinen Fingern und, wo angekreuzt, von meinem Gesicht "
        "eine Vorlage erstellt und aufbewahrt wird, um hier Türen zu öffnen. Eine Vorlage ist "
        "eine Liste von Zahlen; Bilder werden nicht aufbewahrt. Sie geht nur an Leser, die sie "
        "brauchen. Ich kann dies jederzeit ohne Grund und ohne Nachteil widerrufen: Dann werden "
        "meine Vorlagen überall entfernt, und ich benutze stattdessen eine Karte."
    ),
}
"""The wording that Cadrin comes with; a site puts its own in place of it."""


def current_wording() -> ConsentWording | None:
    """Return the newest wording, or None in a house that took no consent yet."""
    return ConsentWording.objects.order_by("-version").first()


def shown_wording() -> dict[str, str]:
    """Return the text that is agreed to now, by language."""
    kept = current_wording()
    return dict(kept.texts) if kept else FIRST


def wording_to_agree_to(at: datetime) -> ConsentWording:
    """Return the newest wording, made when it is first needed. The caller holds the transaction."""
    return current_wording() or add_wording(FIRST, at)


def add_wording(texts: dict[str, str], at: datetime) -> ConsentWording:
    """Put another wording in place of the newest; consents keep the one they were given to."""
    before = current_wording()
    version = before.version + 1 if before else 1
    return ConsentWording.objects.create(version=version, texts=texts, made_at=at)
