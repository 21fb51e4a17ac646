import { accountProblems } from './accounts'
import { batchProblems } from './batches'
import { intakeProblems } from './intake'
import { cardProblems } from './cards'
import { biometricProblems } from './biometrics'
import { credentialProblems } from './credentials'
import { doubleProblems } from './doubles'
import { holidayProblems } from './holidays'
import { photoProblems } from './photos'
import { doingProblems } from './doing'
import { placesProblems } from './places'
import { setupProblems } from './setup'

export const problems = {
  'input.too_long': 'Höchstens {most} Zeichen.',
  'input.invisible_characters': 'Ein Zeichen darin ist nicht zu sehen. Tippen Sie es neu.',
  'input.no_longer_there': 'Das gibt es nicht mehr. Wählen Sie neu.',
  'input.blank': 'Das wird gebraucht.',
  'input.required': 'Das wird gebraucht.',
  'input.null': 'Das wird gebraucht.',
  'input.invalid': 'Das ist nicht lesbar.',
  'input.invalid_choice': 'Das steht nicht zur Wahl.',
  'input.max_value': 'Diese Zahl ist zu groß.',
  'input.min_value': 'Diese Zahl ist zu klein.',
  'input.max_length': 'Das ist zu lang.',
  'input.make_aware': 'Diese Zeit überspringen die Uhren an jenem Tag. Wählen Sie eine andere.',
  'input.day': 'Schreiben Sie einen Tag wie 24.11.2026.',
  'input.date': 'Schreiben Sie einen Tag wie 24.11.2026 und eine Zeit wie 17:30.',
  'request.unknown_field': 'Ein Feld mit diesem Namen gibt es nicht.',
  'request.version_needed': 'Eine Änderung muss die Version nennen, für die sie gilt.',
  'request.if_match_not_readable': 'Das ist keine Version.',
  'request.key_used_otherwise': 'Dieser Schlüssel wurde für eine andere Anfrage verwendet.',
  'membership.not_found': 'Die Person ist nicht in dieser Zutrittsgruppe.',
  'input.not_a_dict': 'Hier wird ein Objekt erwartet.',
  'list.card_not_readable': 'Das ist keine Kartennummer.',
  'card.in_stock': 'Diese Karte hat niemand.',
  'card.stays_one_card': 'Format, Anlagencode, Kartennummer und Inhaber einer Karte ändern sich nicht.',
  'cardholder.number_missing': 'Ein Karteninhaber braucht eine Nummer.',
  'cardholder.number_taken': 'Nummer {number} hat {name}.',
  'cardholder.external_id_taken': '{name} ist dort unter dieser ID bekannt.',
  'cardholder.external_id_twice': 'Mehr als eine von ihnen hat diese ID.',
  'cardholder.external_id_taken_elsewhere': 'Jemand, den Sie nicht sehen, hat diese ID.',
  'cardholder.number_twice': 'Mehr als eine von ihnen hat die Nummer {number}.',
  'own.twice': 'Mehr als eine von ihnen hat diesen Wert.',
  'cardholder.name_missing': 'Ein Karteninhaber braucht einen Vor- oder Nachnamen.',
  'cardholder.email_not_readable': 'Das ist keine E-Mail-Adresse.',
  'cardholder.not_suspended': 'Ein Ende der Aussetzung braucht den Stand Ausgesetzt.',
  'cardholder.not_found': 'Diesen Karteninhaber gibt es nicht mehr.',
  'card.out_of_range': 'Von {lowest_number} bis {highest_number} in diesem Format.',
  'card.foreign_facility':
    'Keine Karte und keine Schachtel hier hat den Anlagencode {facility_code}. Sie wurde genommen: Prüfen, ob es eine eigene ist.',
  'card.twice': 'Dieselbe Karte steht zweimal hier.',
  'card.same_bits':
    'Diese Bits sind auch die der Karte {card} im Format {format}, die {holder} hat. Kein Leser kann die beiden unterscheiden: Nehmen Sie eine andere Karte.',
  'card.same_bits_twice':
    'Zwei Karten hier haben dieselben Bits, in zwei Formaten. Kein Leser kann sie unterscheiden.',
  'card.already_issued': 'Karte {card} ist schon an {holder} ausgegeben. Nehmen Sie sie dort zuerst zurück.',
  'card.cannot_become': 'Eine Karte, die {status} ist, kann das nicht werden.',
  'card.cannot_be_issued': 'Karte {card} ist {status}. Sie kann nicht ausgegeben werden.',
  'card.status_has_no_holder':
    'Eine Karte in diesem Status gehört niemandem. Nehmen Sie sie stattdessen zurück.',
  'membership.meets':
    '{one} und {other} treffen sich an {door}, deren Controller dort eine Gruppe je Person kennt. Verlassen Sie eine davon.',
  'group.meets':
    '{count} Person ist in {one} und in {other}, und beide treffen sich an {door}, deren Controller dort eine Gruppe je Person kennt. | {count} Personen sind in {one} und in {other}, und beide treffen sich an {door}, deren Controller dort eine Gruppe je Person kennt.',
  'controller.groups_meet':
    '{count} Person ist in {one} und in {other}, und beide treffen sich an {door}. Nehmen Sie sie erst aus einer heraus. | {count} Personen sind in {one} und in {other}, und beide treffen sich an {door}. Nehmen Sie sie erst aus einer heraus.',
  'membership.twice': 'Dieselbe Gruppe steht zweimal hier.',
  'span.ends_before_it_begins': 'Das Ende muss nach dem Beginn liegen.',
  'schedule.no_hours': 'Ein Zeitplan braucht mindestens eine Zeitspanne.',
  'schedule.hours_outside': 'Diese Zeiten liegen außerhalb eines Tages.',
  'schedule.hours_empty': 'Diese Zeiten sind leer: sie enden, wenn sie beginnen.',
  'schedule.hours_too_long': 'Mehr als ein Tag. Teilen Sie diese Zeiten.',
  'schedule.hours_overlap': 'Diese Zeiten überschneiden sich mit anderen.',
  'schedule.unknown_zone': 'Eine Zeitzone namens „{zone}“ gibt es nicht.',
  'schedule.name_taken': 'Einen Zeitplan namens {name} gibt es schon.',
  'schedule.in_use':
    'Eine Gruppe benutzt den Zeitplan. Nehmen Sie ihn dort zuerst heraus. | {count} Gruppen benutzen den Zeitplan. Nehmen Sie ihn dort zuerst heraus.',
  'schedule.in_use_for_sending':
    'An einen Controller wird nach diesem Zeitplan gesendet. Ändern Sie das zuerst unter Übertragung. | An {count} Controller wird nach diesem Zeitplan gesendet. Ändern Sie das zuerst unter Übertragung.',
  'schedule.not_found': 'Diesen Zeitplan gibt es nicht mehr.',
  'group.name_taken': 'Eine Gruppe namens {name} gibt es schon.',
  'group.has_people':
    'Eine Person ist in der Gruppe. Nehmen Sie sie zuerst heraus. | {count} Personen sind in der Gruppe. Nehmen Sie sie zuerst heraus.',
  'group.too_many_to_merge':
    'Es sind mehr als {most} Personen darin. Verschieben Sie sie zuerst mit einer Sammelaktion.',
  'review.hidden_groups':
    'Einige kommen durch eine Gruppe hinein, die Sie nicht sehen dürfen. Das muss jemand anderes tun.',
  'group.has_hidden_people':
    'Es sind Personen darin, die Sie nicht sehen dürfen. Das muss jemand anderes tun.',
  'group.times_apart':
    'Eine Person hat in beiden Gruppen Zeiten, die sich nicht berühren. | {count} Personen haben in beiden Gruppen Zeiten, die sich nicht berühren.',
  'group.merge_with_itself': 'Wählen Sie eine andere Gruppe.',
  'group.review_needs_owner': 'Wählen Sie, wer die Personen durchsieht.',
  'grant.of_door_or_area': 'Wählen Sie eine Tür oder einen Bereich.',
  'rule.about_nothing': 'Wählen Sie eine Abteilung, eine Art oder eine Firma.',
  'plan.no_picture': 'Dieser Standort hat kein Bild seines Plans.',
  'rule.twice': 'Diese Regel steht hier zweimal.',
  'area.is_granted':
    'Eine Zutrittsgruppe öffnet alle Türen dieses Bereichs. Nehmen Sie ihn dort zuerst heraus. | {count} Zutrittsgruppen öffnen alle Türen dieses Bereichs. Nehmen Sie ihn dort zuerst heraus.',
  'review.people_left':
    'Eine Person ist übrig. Behalten Sie sie oder nehmen Sie sie zuerst heraus. | {count} Personen sind übrig. Behalten Sie sie oder nehmen Sie sie zuerst heraus.',
  'question.too_much_since':
    'Seither wurde zu viel geändert ({count} Personen), um es für eine Frage zurückzunehmen. Fragen Sie nach einer Person oder nach einem späteren Zeitpunkt.',
  'question.not_found': 'Diese Frage ist nicht mehr gespeichert.',
  'question.too_many_saved': 'Es sind schon {most} Fragen gespeichert. Löschen Sie erst eine.',
  'door.no_picture': 'Die Kamera dort zeigt nichts.',
  'group.not_found': 'Diese Gruppe gibt es nicht mehr.',
  'grant.twice': 'Diese Tür steht zweimal mit demselben Zeitplan hier.',
  'operator.not_permitted': 'Das dürfen Sie nicht.',
  'operator.not_signed_in': 'Sie sind nicht angemeldet.',
  'operator.wrong_password': 'Bediener oder Passwort ist falsch.',
  'request.too_many': 'Zu viele Versuche. Warten Sie eine Minute.',
  'request.no_token': 'Diese Seite ist zu alt. Laden Sie sie neu; Ihre Eingaben bleiben.',
  'request.too_large': 'Das ist mehr, als Cadrin auf einmal annimmt. Nichts wurde geändert.',
  'server.busy': 'Andere speichern gerade, schon länger. Nichts wurde geändert: bitte gleich noch einmal.',
  'server.failed':
    'In Cadrin ist etwas fehlgeschlagen. Nichts wurde geändert; das Protokoll des Servers sagt, warum.',
  'draft.not_found': 'Diesen Entwurf gibt es nicht.',
  'request.not_found': 'Das gibt es nicht.',
  'request.failed': 'Cadrin konnte das nicht tun. Nichts wurde geändert.',
  'request.not_readable': 'Cadrin konnte das nicht lesen. Nichts wurde geändert.',
  'bench.not_there': 'Keine Simulatoren laufen.',
  'bench.does_not_answer': 'Die Simulatoren antworten nicht.',
  'bench.no_such_device': 'Einen solchen Leser oder Controller gibt es am Prüfstand nicht.',
  'bench.refused': 'Die Simulatoren haben das nicht angenommen.',
  'controller.not_found': 'Diesen Controller gibt es nicht mehr.',
  'door.not_found': 'Diese Tür gibt es nicht mehr.',
  'read.not_found': 'Diese Lesung gibt es nicht mehr.',
  'read.not_readable': 'Das sind keine Bits wie 26:2F764DD.',
  'list.unknown_key': 'Hier geht die Liste nicht weiter. Sehen Sie sie neu an.',
  'save.stale': 'Jemand anderes hat inzwischen gespeichert.',
  other: 'Das wurde abgelehnt: {code}.',
  ...accountProblems,
  ...batchProblems,
  ...intakeProblems,
  ...cardProblems,
  ...credentialProblems,
  ...biometricProblems,
  ...doubleProblems,
  ...photoProblems,
  ...holidayProblems,
  ...doingProblems,
  ...placesProblems,
  ...setupProblems,
}
