export const doubles = {
  title: 'Mögliche Dublette: | Mögliche Dubletten:',
  signs: {
    number: 'dieselbe Nummer',
    email: 'dieselbe E-Mail-Adresse',
    name_and_birth_date: 'fast derselbe Name, am selben Tag geboren',
    name_and_department: 'fast derselbe Name in derselben Abteilung',
  },
  goOn: 'Es ist jemand anderes',
  merge: 'Zusammenführen',
  mergeTitle: 'Zwei Einträge einer Person zusammenführen',
  mergeHint:
    'Wählen Sie, was bleiben soll. {number} wird entfernt; Verlauf, Lesungen, Karten und Gruppen gehen zum anderen Eintrag.',
  mergeNow: 'Zu einem machen',
  field: 'Feld',
  both: 'Er hat dann die Karten und Zutrittsgruppen von beiden: {cards}, {groups}.',
  cards: 'keine Karte | eine Karte | {n} Karten',
  groups: 'keine Zutrittsgruppe | eine Zutrittsgruppe | {n} Zutrittsgruppen',
  saveAnyway: 'Als andere Person speichern',
  look: 'Noch einmal ansehen',
  ask: 'Das könnte jemand sein, der schon im Register ist: {names}.',
}

export const people = {
  others: '{names} hat diesen Karteninhaber auch offen. | {names} haben diesen Karteninhaber auch offen.',
  takeBack: 'Rückgängig machen',
  takeBackOf: 'Rückgängig machen: {what}',
  takenBack: 'Rückgängig gemacht.',
  held: 'Bei den Controllern',
  erase: 'Endgültig löschen',
  eraseTitle: '{name} endgültig löschen?',
  eraseHint:
    'Name, Angaben und Bilder werden aus Register und Journal entfernt und lassen sich nicht wiederherstellen. Karten werden zurückgenommen, aller Zutritt endet. Lesungen und Journal bleiben unter der Nummer {number} allein.',
  eraseReason: 'Grund',
  erased: 'Dieser Karteninhaber wurde gelöscht. Nur die Nummer ist geblieben.',
  merged: 'Vereint mit dem, was {name} gespeichert hat: {changes}',
  clash: '{field}: Sie schrieben „{mine}“, gespeichert wurde „{theirs}“',
}

export const doubleProblems = {
  'journal.cannot_be_taken_back': 'Das lässt sich nicht rückgängig machen.',
  'journal.changed_since': 'Es wurde seither wieder geändert: {fields}. Nehmen Sie zuerst das zurück.',
  'cardholder.erased': 'Dieser Karteninhaber wurde gelöscht.',
  'erase.needs_reason': 'Sagen Sie warum, mit mindestens {least} Buchstaben.',
  'merge.same': 'Das ist derselbe Eintrag.',
}

export const doubleActions = {
  'cardholder.merged': 'hat einen anderen Eintrag mit diesem zusammengeführt',
  'cardholder.erased': 'hat den Karteninhaber gelöscht',
}
