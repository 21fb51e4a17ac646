import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/atkinson-hyperlegible-mono'
import './main.css'

import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import PrimeVue from 'primevue/config'
import ConfirmationService from 'primevue/confirmationservice'
import ToastService from 'primevue/toastservice'
import { createApp } from 'vue'

import { Refusal, whenShut } from './api/client'
import App from './App.vue'
import { FreshQueries } from './kit/fresh-queries'
import { listsFollowTheirFields } from './kit/lists-follow'
import { useSession } from './kit/session'
import { router } from './router'
import { Preset } from './theme'
import { i18n } from './words'

const nonce = document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.nonce ?? ''

const queryClient = new FreshQueries({
  defaultOptions: {
    queries: {
      retry: (count, error) => !(error instanceof Refusal) && count < 2,
      staleTime: 1000,
    },
  },
})

listsFollowTheirFields()
// earlier versions kept drafts in the browser, where whoever came next could read them
for (const key of Object.keys(localStorage)) if (key.startsWith('cadrin.draft.')) localStorage.removeItem(key)
const app = createApp(App)
  .use(createPinia())
  .use(router)
  .use(i18n)
  .use(VueQueryPlugin, { queryClient })
  .use(PrimeVue, { theme: { preset: Preset, options: { darkModeSelector: '.dark' } }, csp: { nonce } })
  .use(ToastService)
  .use(ConfirmationService)

whenShut((status) => {
  if (status === 401) useSession().ended()
  // a permission went while its operator was at work: the page shows what is left
  else void useSession().load()
})

app.mount('#app')
