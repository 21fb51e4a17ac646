<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useTimeoutFn, whenever } from '@vueuse/core'
import { useToast } from 'primevue/usetoast'
import { defineAsyncComponent, onMounted, provide, ref, shallowRef, useTemplateRef, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Read } from '@/api/client'
import { house } from '@/api/queries'
import { siteZone } from '@/kit/time/clock'
import { holdLetters } from '@/kit/controls/held-letters'
import { useKeys } from '@/kit/controls/keys'
import { useReads } from '@/kit/state/reads'
import { useSession } from '@/kit/state/session'
import { usePageTitle } from '@/kit/state/title'
import { newCardholder, type ReadUser, readUser } from '@/kit/state/use-read'
import { useDropAnywhere, useTakingIn } from '@/sections/intakes/drop'
import { t } from '@/words'

import ConsentCalls from './ConsentCalls.vue'
import NoticeLines from './NoticeLines.vue'
import ReadStrip from './ReadStrip.vue'
import SectionNav from './SectionNav.vue'
import TopBar from './TopBar.vue'

const FETCHED_AFTER_MS = 1500

const router = useRouter()
const session = useSession()
const toast = useToast()
const reads = useReads()
const KeysDialog = defineAsyncComponent(() => import('./KeysDialog.vue'))
const areKeysShown = ref(false)
const wereKeysAsked = ref(false)
whenever(areKeysShown, () => (wereKeysAsked.value = true))
const isBenchOpen = ref(false)
const isReady = ref(false)
const work = useTemplateRef('work')

const route = useRoute()
const SECTIONS = ['desk', 'cardholders', 'cards', 'access', 'delivery', 'activity', 'setup'] as const
usePageTitle(() => {
  const path = route.path.split('/')[1]
  const section = SECTIONS.find((one) => one === (path || 'desk'))
  return section ? t(`sections.${section}`) : ''
})

// every time on every screen is the site's: nothing is shown before its zone is known
const { data: known } = useQuery(house)
watchEffect(() => {
  if (!known.value) return
  siteZone.value = known.value.site.zone
  isReady.value = true
})

// at a desk one presses N and types on: the page for it is fetched before it is asked for; if that
// was cut short, it is fetched again when it is
onMounted(() => {
  const fetch = () => void import('@/sections/cardholders/CardholderPage.vue').catch(() => undefined)
  useTimeoutFn(fetch, FETCHED_AFTER_MS)
})

/** What is open may take the newest read for itself. */
const taker = shallowRef<ReadUser | null>(null)
provide(readUser, taker)

function useNewestRead() {
  const read = reads.newest
  if (taker.value) taker.value.use(read)
  else if (!read) toast.add({ severity: 'info', summary: t('strip.nothing'), life: 4000 })
  else if (read.holder_id) void router.push({ name: 'cardholder', params: { id: read.holder_id } })
  else if (read.card_number === null) toast.add({ severity: 'warn', summary: t('strip.notCard'), life: 4000 })
  else if (session.may('enrol')) enrol(read)
}
/** What is typed while the page opens belongs to its first field. */
function enrol(read?: Read) {
  holdLetters(router.push(newCardholder(read)))
}

/** A list may be dropped on any page. */
const { takeIn } = useTakingIn()
const { isOver } = useDropAnywhere(
  () => session.may('enrol'),
  (files) => void takeIn(files),
)

const go = (name: string) => () => void router.push({ name })
useKeys({
  '/': () => document.getElementById('find')?.focus(),
  N: () => session.may('enrol') && enrol(),
  U: useNewestRead,
  B: () => (isBenchOpen.value = !isBenchOpen.value),
  '?': () => (areKeysShown.value = true),
  G: () => undefined,
  'G D': go('desk'),
  'G C': go('cardholders'),
  'G K': go('cards'),
  'G A': go('access'),
  'G L': go('delivery'),
  'G V': go('activity'),
  'G S': go('setup'),
})
</script>

<template>
  <div class="frame">
    <a class="skip" href="#work" @click.prevent="work?.focus()">{{ t('frame.skip') }}</a>
    <TopBar @keys="areKeysShown = true" />
    <SectionNav />
    <NoticeLines />
    <main v-if="isReady" id="work" ref="work" class="work" tabindex="-1">
      <!-- another cardholder is another page: nothing of one is ever shown for the other -->
      <RouterView v-slot="{ Component }">
        <component :is="Component" :key="route.meta.isKeyed ? route.path + String(route.query.start) : ''" />
      </RouterView>
    </main>
    <ReadStrip v-model:is-open="isBenchOpen" @use="useNewestRead" />
    <ConsentCalls />
    <p v-if="isOver && session.may('enrol')" class="drop" aria-hidden="true">{{ t('intake.dropIt') }}</p>
    <KeysDialog v-if="wereKeysAsked" v-model:visible="areKeysShown" />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template: 48px auto 1fr auto / 168px 1fr;
  grid-template-areas: 'top top' 'nav notices' 'nav work' 'strip strip';
  height: 100vh;
}
.drop {
  position: fixed;
  inset: 60px 20px 56px 188px;
  z-index: 10;
  display: grid;
  place-content: center;
  border: 2px dashed var(--p-cadrin-teal);
  border-radius: 4px;
  background: var(--p-cadrin-teal-paper);
  font-size: 20px;
  opacity: 0.92;
  pointer-events: none;
}
.skip {
  position: absolute;
  left: -9999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  z-index: 20;
  padding: 6px 12px;
  border-radius: 4px;
  background: var(--p-cadrin-sheet);
  color: var(--p-cadrin-teal);
}
/* on paper stands what the page is about, and none of the frame around it */
@media print {
  .frame {
    display: block;
    height: auto;
  }
  .frame > :not(.work) {
    display: none;
  }
  .work {
    overflow: visible;
  }
  .work :deep(.people),
  .work :deep(.editor) {
    overflow: visible;
  }
}
.work {
  grid-area: work;
  overflow: auto;
  min-width: 0;
}
/* on a tablet held upright, or enlarged (WCAG 2.2, 1.4.10), parts stand beneath one another */
@media (width < 1000px) {
  .frame {
    grid-template: auto auto auto 1fr auto / minmax(0, 1fr);
    grid-template-areas: 'top' 'nav' 'notices' 'work' 'strip';
  }
  .drop {
    inset: 110px 20px 56px;
  }
}
</style>
