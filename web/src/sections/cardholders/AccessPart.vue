<script setup lang="ts">
import { X } from '@lucide/vue'
import AutoComplete from 'primevue/autocomplete'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import type { Consequences, House, MembershipDraft, Problem } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import InstantField from '@/kit/time/InstantField.vue'
import { letGo } from '@/kit/controls/let-go'
import { t } from '@/words'

import { newMembership } from './membership'

const props = defineProps<{
  groups: House['groups']
  doors: House['doors']
  problems: Problem[]
  cardholder: number | null
  meetings: Consequences['meetings']
}>()
const memberships = defineModel<MembershipDraft[]>({ required: true })

type Choice = House['groups'][number]
const typed = ref<string | Choice>('')
const asked = ref('')
/** The groups one is not in, whose names hold a text. */
function holding(text: string) {
  const taken = new Set(memberships.value.map((one) => one.group))
  const words = text.trim().toLowerCase()
  return props.groups.filter((one) => !taken.has(one.id) && one.name.toLowerCase().includes(words))
}
const found = computed(() => holding(asked.value))
const nameOf = (id: number) => props.groups.find((one) => one.id === id)?.name ?? '?'
const at = (place: number, field: string) => props.problems.filter((one) => one.field === `${place}.${field}`)
/** Where two of the groups lead to the same doors: their hours count together there. */
const meetingWords = computed(() =>
  props.meetings.map((met) =>
    t('file.meet', {
      one: nameOf(met.one),
      other: nameOf(met.other),
      doors: met.doors.map((id) => props.doors.find((door) => door.id === id)?.name ?? '?').join(', '),
    }),
  ),
)

function add(group: Choice) {
  memberships.value.push(newMembership(group.id))
  typed.value = ''
  letGo()
}
/** Enter takes the only one that is meant, also when it comes before the list has opened. */
function takeOnly() {
  if (typeof typed.value !== 'string' || !typed.value.trim()) return
  const [only, ...others] = holding(typed.value)
  if (only && !others.length) add(only)
}
</script>

<template>
  <section id="access" class="part" aria-labelledby="access-head">
    <div class="row head">
      <h2 id="access-head">{{ t('file.access') }}</h2>
      <AutoComplete
        v-model="typed"
        class="push add"
        :suggestions="found"
        option-label="name"
        size="small"
        dropdown
        auto-option-focus
        :delay="0"
        :placeholder="t('file.addGroup')"
        :aria-label="t('file.addGroup')"
        :pt="{ dropdown: { 'aria-label': t('file.allGroups') } }"
        @complete="asked = $event.query"
        @option-select="add($event.value)"
        @keydown.enter="takeOnly"
      />
    </div>
    <p v-if="!memberships.length" class="quiet">{{ t('file.noGroups') }}</p>
    <RouterLink
      v-if="cardholder"
      class="find"
      :to="{ name: 'access', params: { part: 'groups', id: 'find' }, query: { for: cardholder } }"
      >{{ t('file.findGroup') }}</RouterLink
    >
    <ul>
      <li v-for="(one, place) in memberships" :key="one.group" class="membership">
        <div class="name">
          <b>{{ nameOf(one.group) }}</b>
          <span v-if="one.is_by_rule" class="quiet by-rule">{{ t('groupRules.byRule') }}</span>
          <FieldProblem :id="`membership-${place}`" :problems="at(place, 'group')" />
        </div>
        <InstantField v-model="one.activation_at" :label="t('file.cardFrom')" :empty="t('common.atOnce')" />
        <InstantField
          v-model="one.expiry_at"
          :label="t('file.cardTo')"
          is-end
          :empty="t('common.noEnd')"
          :problems="at(place, 'expiry_at')"
        />
        <Button
          size="small"
          severity="secondary"
          class="leave"
          :aria-label="`${t('file.leave')}: ${nameOf(one.group)}`"
          :title="t('file.leave')"
          @click="memberships.splice(place, 1)"
        >
          <X :size="14" aria-hidden="true" />
        </Button>
      </li>
    </ul>
    <p v-for="words in meetingWords" :key="words" class="quiet">{{ words }}</p>
  </section>
</template>

<style scoped>
.part {
  margin-top: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.head {
  margin-bottom: 4px;
}
.add {
  width: 220px;
}
.membership {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 4px 12px;
  padding: 5px 0;
}
.name {
  flex: 1 1 120px;
  padding-top: 20px;
}
.by-rule {
  margin-left: 8px;
}
.leave {
  margin-top: 18px;
}
</style>
