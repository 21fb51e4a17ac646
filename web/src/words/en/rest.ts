import { batches, columns, views } from './batches'
import { biometricRules, cardAlone, consents, faces, fingers } from './biometrics'
import { cards, stock } from './cards'
import { doubles, people } from './doubles'
import { actions, fields } from './journal'
import { holidays } from './holidays'
import { photos } from './photos'
import { places } from './places'
import { plan } from './plan'
import { finder } from './finder'
import { questions } from './questions'
import { problems } from './problems'
import { setup } from './setup'

/** What is not said before the Desk stands. */
export const rest = {
  batches,
  columns,
  views,
  biometricRules,
  cardAlone,
  consents,
  faces,
  fingers,
  cards,
  stock,
  doubles,
  people,
  actions,
  fields,
  holidays,
  photos,
  places,
  plan,
  finder,
  questions,
  problems,
  setup,
}
