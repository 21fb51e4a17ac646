<script setup lang="ts">
import { Plus, Search } from '@lucide/vue'
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'

import { textInAddress } from '@/kit/state/addressed'
import MayChange from '@/kit/controls/MayChange.vue'
import { t } from '@/words'

import { places as query } from '../queries'
import AreaEditor from './AreaEditor.vue'
import ControllerEditor from './ControllerEditor.vue'
import ControllerSearch from './ControllerSearch.vue'
import DoorEditor from './DoorEditor.vue'
import type { Area, Chosen } from './places'
import PlaceLine from './PlaceLine.vue'
import SiteEditor from './SiteEditor.vue'

/** Sites with their areas and doors, the controllers, and one of them to change. */
defineProps<{ mayChange: boolean }>()
const { data: places, isError } = useQuery(query)

/** Such as `door-3`, or `area-new`. */
const address = textInAddress('of')
/** What something new is made within; of what is there it is known. */
const within = ref<number>()
const chosen = computed<Chosen | null>({
  get: () => {
    const [, kind, id] = /^(site|area|door|controller|search)-(\d+|new)$/.exec(address.value ?? '') ?? []
    if (!kind) return null
    return { kind: kind as Chosen['kind'], id: id === 'new' ? null : Number(id), within: within.value }
  },
  set: (one) => {
    within.value = one?.within
    address.value = one && `${one.kind}-${one.id ?? 'new'}`
  },
})
const is = (kind: Chosen['kind'], id: number) => chosen.value?.kind === kind && chosen.value.id === id
const open = (kind: Chosen['kind'], id: number | null, within?: number) => {
  chosen.value = { kind, id, within }
}
/** What is chosen is most likely what something new is to lie in. */
const near = (kind: Chosen['kind']) =>
  chosen.value?.kind === kind ? (chosen.value.id ?? undefined) : undefined
const found = <T extends { id: number }>(rows: T[]) => rows.find((one) => one.id === chosen.value?.id)
/** After it was saved, it stays open as it is now; after it was removed, nothing is. */
const done = (id: number | null) => {
  chosen.value = id === null || !chosen.value ? null : { kind: chosen.value.kind, id }
}
const key = computed(() => {
  const one = chosen.value
  if (!one || !places.value) return ''
  const { sites, areas, doors, controllers } = places.value
  const rows = { site: sites, area: areas, door: doors, controller: controllers, search: [] }[one.kind]
  const version = rows.find((row) => row.id === one.id)?.version
  return `${one.kind} ${one.id} ${one.within} ${version}`
})
/** What is typed finds doors, and areas with all of theirs; it is asked for where there are many. */
const MANY_DOORS = 20
const sought = ref('')
const isSought = (name: string) => name.toLowerCase().includes(sought.value.trim().toLowerCase())
const doorsInto = (area: Area) =>
  places.value?.doors.filter(
    (one) => one.area_id === area.id && (isSought(one.name) || isSought(area.name)),
  ) ?? []
const areasOf = (site: number) =>
  places.value?.areas.filter(
    (one) => one.site_id === site && (isSought(one.name) || doorsInto(one).length),
  ) ?? []
const doorsAt = (id: number) => places.value?.doors.filter((one) => one.controller_id === id).length
</script>

<template>
  <div class="both stacks">
    <div>
      <h2>{{ t('places.title') }}</h2>
      <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
      <p v-else-if="!places" class="quiet">{{ t('common.loading') }}</p>
      <template v-else>
        <p v-if="!places.sites.length" class="quiet">{{ t('places.noSites') }}</p>
        <div v-if="mayChange" class="new row">
          <button type="button" @click="open('site', null)">
            <Plus :size="14" aria-hidden="true" /> {{ t('places.newSite') }}
          </button>
          <button v-if="places.sites.length" type="button" @click="open('area', null, near('site'))">
            <Plus :size="14" aria-hidden="true" /> {{ t('places.newArea') }}
          </button>
          <button
            v-if="places.areas.length && places.controllers.some((one) => !one.is_desk)"
            type="button"
            @click="open('door', null, near('area'))"
          >
            <Plus :size="14" aria-hidden="true" /> {{ t('places.newDoor') }}
          </button>
        </div>
        <InputText
          v-if="places.doors.length > MANY_DOORS"
          v-model="sought"
          size="small"
          class="sought"
          :placeholder="t('places.find')"
          :aria-label="t('places.find')"
        />
        <ul>
          <template v-for="site in places.sites" :key="site.id">
            <PlaceLine
              :name="site.name"
              :more="site.zone"
              :depth="0"
              :is-here="is('site', site.id)"
              @open="open('site', site.id)"
            />
            <template v-for="area in areasOf(site.id)" :key="area.id">
              <PlaceLine
                :name="area.name"
                :depth="1"
                :is-here="is('area', area.id)"
                @open="open('area', area.id)"
              />
              <PlaceLine
                v-for="door in doorsInto(area)"
                :key="door.id"
                :name="door.name"
                :more="places.controllers.find((one) => one.id === door.controller_id)?.name ?? ''"
                :depth="2"
                :is-here="is('door', door.id)"
                @open="open('door', door.id)"
              />
            </template>
          </template>
        </ul>
        <h2 class="controllers">{{ t('places.controllers') }}</h2>
        <div v-if="mayChange" class="new row">
          <button type="button" @click="open('search', null)">
            <Search :size="14" aria-hidden="true" /> {{ t('places.search') }}
          </button>
        </div>
        <p v-if="!places.controllers.length" class="quiet">{{ t('places.noControllers') }}</p>
        <ul>
          <PlaceLine
            v-for="one in places.controllers"
            :key="one.id"
            :name="one.name"
            :more="one.is_desk ? '' : t('delivery.doors', doorsAt(one.id) ?? 0)"
            :depth="0"
            :is-here="is('controller', one.id)"
            @open="open('controller', one.id)"
          />
        </ul>
      </template>
    </div>
    <div v-if="places" :key="key" class="chosen">
      <MayChange :may="mayChange">
        <p v-if="!chosen" class="quiet">{{ t('places.choose') }}</p>
        <SiteEditor
          v-else-if="chosen.kind === 'site'"
          :site="found(places.sites)"
          :may-change="mayChange"
          @done="done"
        />
        <AreaEditor
          v-else-if="chosen.kind === 'area'"
          :area="found(places.areas)"
          :sites="places.sites"
          :doors="places.doors"
          :within="chosen.within"
          :may-change="mayChange"
          @done="done"
        />
        <DoorEditor
          v-else-if="chosen.kind === 'door'"
          :door="found(places.doors)"
          :places="places"
          :within="chosen.within"
          :may-change="mayChange"
          @done="done"
        />
        <ControllerSearch v-else-if="chosen.kind === 'search'" @done="open('controller', $event)" />
        <ControllerEditor
          v-else-if="found(places.controllers)"
          :controller="found(places.controllers)!"
          :places="places"
          :may-change="mayChange"
          @done="done"
        />
      </MayChange>
    </div>
  </div>
</template>

<style scoped>
.both {
  display: grid;
  grid-template-columns: minmax(280px, 1fr) minmax(340px, 1.2fr);
  gap: 24px;
}
.new {
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 2px 0 4px;
}
.new button {
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 4px 0;
  border: 0;
  background: none;
  color: var(--p-cadrin-teal);
  cursor: pointer;
}
.sought {
  width: 100%;
  margin-bottom: 4px;
}
.controllers {
  margin-top: 18px;
}
.chosen {
  position: sticky;
  top: 0;
  align-self: start;
}
.chosen :deep(.editor) {
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-width: 480px;
}
</style>
