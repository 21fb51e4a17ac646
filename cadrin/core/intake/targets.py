"""What a column of a file may be taken for, and by which headings it is known."""

import re
from collections.abc import Mapping
from enum import StrEnum

from cadrin.core.people.names import fold


class Target(StrEnum):
    """What a column is taken for; custom fields are ``own.<id>`` beside these."""

    NOTHING = ""
    NUMBER = "number"
    EXTERNAL_ID = "external_id"
    FIRST_NAME = "first_name"
    LAST_NAME = "last_name"
    FULL_NAME = "full_name"
    DISPLAY_NAME = "display_name"
    TITLE = "title"
    EMAIL = "email"
    PHONE = "phone"
    LANGUAGE = "language"
    BORN_ON = "born_on"
    DEPARTMENT = "department"
    COMPANY = "company"
    KIND = "kind"
    STANDING = "standing"
    STANDING_REASON = "standing_reason"
    ACTIVATION = "activation"
    EXPIRY = "expiry"
    EXTENDED_TIME = "extended_time"
    CARD = "card"
    CARD_FACILITY = "card_facility"
    CARD_NUMBER = "card_number"
    CARD_LABEL = "card_label"
    GROUPS = "groups"
    PIN = "pin"
    PLATE = "plate"
    PHOTO = "photo"
    REMARKS = "remarks"


OWN = "own."
SEVERAL_COLUMNS = frozenset(
    {Target.NOTHING, Target.PHONE, Target.GROUPS, Target.CARD, Target.PLATE}
)
"""What more than one column of a file may be taken for."""

HEADINGS: Mapping[Target, tuple[str, ...]] = {
    Target.NUMBER: (
        "number", "no", "nr", "cardholder number", "personnel number", "employee number", "employee id",
        "staff number", "staff id", "id", "employeenumber", "nummer", "personalnummer", "pers nr",
        "mitarbeiternummer", "ausweisinhabernummer", "matricule", "numero", "numero empleado",
        "matricola", "personeelsnummer", "ansattnummer", "anstallningsnummer", "medarbejdernummer",
        "numer",
    ),
    Target.EXTERNAL_ID: ("external id", "hr id", "uid", "entryuuid", "externe id", "guid"),
    Target.FIRST_NAME: (
        "first name", "firstname", "forename", "given name", "givenname", "first", "vorname",
        "prenom", "nombre", "nome", "voornaam", "fornavn", "fornamn", "imie", "rufname",
    ),
    Target.LAST_NAME: (
        "last name", "lastname", "surname", "family name", "sn", "last", "nachname", "familienname",
        "nom", "nom de famille", "apellido", "apellidos", "cognome", "achternaam", "etternavn",
        "efternamn", "efternavn", "nazwisko", "sobrenome",
    ),
    Target.FULL_NAME: (
        "name", "full name", "fullname", "cn", "employee", "person", "mitarbeiter",
        "vollstandiger name", "nom complet", "nombre completo", "naam", "navn", "namn",
    ),
    Target.DISPLAY_NAME: ("display name", "displayname", "anzeigename", "shown as"),
    Target.TITLE: ("title", "job title", "position", "role", "function", "funktion", "titel", "poste",
                   "fonction", "cargo", "functie", "stilling", "stanowisko"),
    Target.EMAIL: ("e mail", "email", "mail", "e mail address", "email address", "mailadresse",
                   "e mail adresse", "courriel", "correo", "correo electronico", "epost", "e post"),
    Target.PHONE: ("telephone", "phone", "phone number", "mobile", "mobile phone", "cell", "tel",
                   "telefon", "mobil", "handy", "telefonnummer", "telephonenumber", "telefono",
                   "telefoon", "mobiltelefon", "portable", "mobiel"),
    Target.LANGUAGE: ("language", "preferredlanguage", "sprache", "langue", "idioma", "lingua", "taal",
                      "sprak", "sprog"),
    Target.BORN_ON: ("born", "born on", "birth date", "birthdate", "date of birth", "dob", "birthday",
                     "geburtsdatum", "geburtstag", "geboren", "geboren am", "date de naissance",
                     "fecha de nacimiento", "data di nascita", "geboortedatum", "fodselsdato",
                     "fodelsedatum", "data urodzenia"),
    Target.DEPARTMENT: ("department", "dept", "team", "unit", "division", "ou", "departmentnumber",
                        "abteilung", "bereich", "kostenstelle", "service", "departement",
                        "departamento", "reparto", "afdeling", "avdeling", "avdelning", "dzial"),
    Target.COMPANY: ("company", "employer", "organisation", "organization", "o", "firm", "firma",
                     "unternehmen", "arbeitgeber", "societe", "entreprise", "empresa", "azienda",
                     "bedrijf", "foretag", "virksomhed"),
    Target.KIND: ("kind", "type", "employee type", "employeetype", "category", "art", "typ",
                  "personenart", "beschaftigungsart", "categorie", "tipo", "soort"),
    Target.STANDING: ("standing", "status", "stand", "statut", "estado", "stato"),
    Target.STANDING_REASON: ("reason", "standing reason", "grund", "begrundung", "motif", "motivo"),
    Target.ACTIVATION: ("activation", "start", "starts", "start date", "from", "valid from", "begin",
                        "entry date", "hire date", "joining date", "gultig ab", "beginn", "eintritt",
                        "eintrittsdatum", "ab", "von", "debut", "date d entree", "inicio",
                        "fecha de inicio", "inizio", "startdatum", "vanaf", "startdato"),
    Target.EXPIRY: ("expiry", "expires", "end", "ends", "end date", "until", "to", "valid until",
                    "valid to", "leaving date", "leave date", "last day", "gultig bis", "ende",
                    "austritt", "austrittsdatum", "bis", "fin", "date de sortie", "fecha de fin",
                    "fine", "scadenza", "einddatum", "tot", "sluttdato", "slutdatum"),
    Target.EXTENDED_TIME: ("extended time", "door time", "verlangerte zeit", "verlangerte offnungszeit"),
    Target.CARD: ("card", "cards", "badge", "badge number", "card as printed", "fob", "raw read",
                  "karte", "karten", "ausweis", "ausweisnummer", "carte", "tarjeta", "tessera", "pas",
                  "kort", "karta"),
    Target.CARD_FACILITY: ("facility code", "facility", "site code", "fc", "anlagencode", "anlagennummer"),
    Target.CARD_NUMBER: ("card number", "card no", "cardnumber", "kartennummer", "kartennr",
                         "numero de carte", "numero de tarjeta", "kaartnummer", "kortnummer"),
    Target.CARD_LABEL: ("card label", "label", "kartenbezeichnung", "beschriftung"),
    Target.GROUPS: ("access groups", "access group", "groups", "group", "access", "zutrittsgruppen",
                    "zutrittsgruppe", "gruppen", "gruppe", "zutritt", "groupes", "groupes d acces",
                    "grupos", "gruppi", "groepen", "grupper"),
    Target.PIN: ("pin", "pin code", "pincode", "code pin"),
    Target.PLATE: ("licence plate", "license plate", "plate", "number plate", "registration",
                   "kennzeichen", "kfz kennzeichen", "plaque", "immatriculation", "matricula", "targa",
                   "kenteken", "skiltnummer"),
    Target.PHOTO: ("photo", "picture", "portrait", "image", "photo file", "jpegphoto", "foto", "bild"),
    Target.REMARKS: ("remarks", "notes", "note", "comment", "comments", "description", "bemerkung",
                     "bemerkungen", "notiz", "kommentar", "remarques", "commentaire", "observaciones",
                     "opmerkingen"),
}  # fmt: skip
"""Headings as they are met, in several languages, folded; common practice and our own."""
DERIVED = frozenset({"state", "zustand", "readiness", "bereitschaft", "dn", "reasons", "grunde"})
"""Headings of what Cadrin works out itself, or what says nothing about a person: left out."""
_BETWEEN_WORDS = re.compile(r"[\W_]+")


def heading_key(heading: str) -> str:
    """Return a heading as it is compared, without accents, case, marks and what stands in brackets.

    >>> heading_key("E-Mail_Adresse (privat)*"), heading_key("Gültig ab:")
    ('e mail adresse', 'gultig ab')
    """
    text = re.sub(r"[\[(].*?[\])]", " ", heading)
    return _BETWEEN_WORDS.sub(" ", fold(text)).strip()


TARGET_OF_HEADING = {heading: target for target, names in HEADINGS.items() for heading in names}
