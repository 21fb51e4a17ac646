/** Who is in a group by what they are. */
export const rules = {
  title: 'Members by rule',
  add: 'Add a rule',
  none: 'Nobody is in it by a rule.',
  any: { department: 'any department', kind: 'any kind', company: 'any company' },
  fields: { department: 'Department', kind: 'Kind', company: 'Company' },
  of: '{what} of rule {place}',
  remove: 'Remove rule {place}',
  byRule: 'by rule',
  joining: 'One person joins it by its rules. | {count} people join it by its rules.',
  leaving: 'One person leaves it. | {count} people leave it.',
  keptOut: 'Kept out, whatever the rules say',
  takeBack: 'Let the rules count for {name} again',
}
