import MultiSelect from 'primevue/multiselect'

import { asLists } from './lists-follow'

/** A list of which several are chosen; it works as every other list does. */
asLists(MultiSelect)

export default MultiSelect
