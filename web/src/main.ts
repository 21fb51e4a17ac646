import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/atkinson-hyperlegible-mono'
import './main.css'
import 'virtual:look/base.css'

import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import PrimeVue from 'primevue/config'
import ConfirmationService from 'primevue/confirmationservice'
import ToastService from 'primevue/toastservice'
import { createApp } from 'vue'

import { Refusal, whenShut } from './api/client'
import App from './App.vue'
import { holdForWhatIsNew } from './kit/controls/held-letters'
import { FreshQueries } from './kit/state/fresh-queries'
import { listsFollowTheirFields } from './kit/controls/lists-follow'
import { keepOnTheWay } from './kit/state/leaving'
import { useSession } from './kit/state/session'
import { router } from './router'
import { i18n, t } from './words'
import { followLanguage, wholeCatalogue } from './words/loading'

const LOADED_ANEW_FOR = 'cadrin.loadedAnewFor'
const nonce = document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.nonce ?? ''

const KEPT_UNUSED_MS = 5000
const queryClient = new FreshQueries({
  defaultOptions: {
    queries: {
      retry: (count, error) => !(error instanceof Refusal) && count < 2,
      staleTime: 1000,
      // an answer that is kept keeps the page that asked for it in memory
      gcTime: KEPT_UNUSED_MS,
    },
  },
})

const canSpeak = followLanguage()
keepOnTheWay(router)
holdForWhatIsNew(router)
router.beforeResolve((to) => (to.name === 'desk' ? undefined : wholeCatalogue()))

listsFollowTheirFields()
// earlier versions kept drafts in the browser, where whoever came next could read them
for (const key of Object.keys(localStorage)) if (key.startsWith('cadrin.draft.')) localStorage.removeItem(key)
const app = createApp(App)
  .use(createPinia())
  .use(router)
  .use(i18n)
  .use(VueQueryPlugin, { queryClient })
  .use(PrimeVue, { theme: 'none', csp: { nonce } })
  .use(ToastService)
  .use(ConfirmationService)

whenShut((status) => {
  if (status === 401) useSession().ended()
  // a permission went while its operator was at work: the page shows what is left
  else void useSession().load()
})

/** A page whose code is not to be had: the server is gone, or has another version by now. */
router.onError((_, to) => {
  void fetch('/', { cache: 'no-store' }).then(
    ({ ok }) => {
      const was = sessionStorage.getItem(LOADED_ANEW_FOR)
      sessionStorage.setItem(LOADED_ANEW_FOR, to.fullPath)
      // drafts are kept by the server: loading anew loses nothing
      if (ok && was !== to.fullPath) location.assign(to.fullPath)
      else tellNotLoaded()
    },
    () => tellNotLoaded(),
  )
})
router.afterEach(() => sessionStorage.removeItem(LOADED_ANEW_FOR))
function tellNotLoaded() {
  const { $toast } = app.config.globalProperties
  $toast.add({
    severity: 'error',
    summary: t('frame.notLoaded'),
    detail: t('frame.notLoadedHint'),
    life: 8000,
  })
}

void canSpeak.then(() => app.mount('#app'))
