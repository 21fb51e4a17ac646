export const rules = {
  title: 'Mitglieder nach Regeln',
  add: 'Regel hinzufügen',
  none: 'Niemand ist nach einer Regel darin.',
  any: { department: 'jede Abteilung', kind: 'jede Art', company: 'jede Firma' },
  fields: { department: 'Abteilung', kind: 'Art', company: 'Firma' },
  of: '{what} der Regel {place}',
  remove: 'Regel {place} entfernen',
  byRule: 'nach Regel',
  joining: 'Nach den Regeln kommt eine Person hinein. | Nach den Regeln kommen {count} Personen hinein.',
  leaving: 'Eine Person verlässt sie. | {count} Personen verlassen sie.',
  keptOut: 'Herausgehalten, was die Regeln auch sagen',
  takeBack: 'Regeln für {name} wieder gelten lassen',
}
