<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'

import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import BiometricRulesPart from './BiometricRulesPart.vue'
import CardRulesPart from './CardRulesPart.vue'
import DepartmentsPart from './DepartmentsPart.vue'
import ListPart from './ListPart.vue'
import OperatorsPart from './operators/OperatorsPart.vue'
import RolesPart from './operators/RolesPart.vue'
import TokensPart from './operators/TokensPart.vue'
import OwnFieldsPart from './OwnFieldsPart.vue'
import PlacesPart from './places/PlacesPart.vue'
import ReadersPart from './ReadersPart.vue'
import RulesPart from './RulesPart.vue'

const PARTS = [
  'places',
  'departments',
  'companies',
  'kinds',
  'own-fields',
  'rules',
  'cards',
  'biometrics',
  'readers',
] as const
const ADMINISTRATORS_PARTS = ['operators', 'roles', 'tokens'] as const
type Part = (typeof PARTS)[number] | (typeof ADMINISTRATORS_PARTS)[number]

const route = useRoute()
const part = computed(() => (route.params.part as Part) || 'places')
const session = useSession()
const mayChange = session.may('set_up')
const parts: readonly Part[] = session.may('journal') ? [...PARTS, ...ADMINISTRATORS_PARTS] : PARTS
</script>

<template>
  <div class="columns stacks">
    <div class="side">
      <h1>{{ t('setup.title') }}</h1>
      <nav :aria-label="t('setup.title')">
        <RouterLink
          v-for="one in parts"
          :key="one"
          :to="{ name: 'setup', params: { part: one } }"
          :class="{ here: one === part }"
          :aria-current="one === part ? 'page' : undefined"
        >
          {{ t(`setup.parts.${one}`) }}
          <span class="quiet">{{ t(`setup.about.${one}`) }}</span>
        </RouterLink>
      </nav>
      <p v-if="!mayChange" class="quiet">{{ t('setup.onlyLook') }}</p>
    </div>
    <div class="part">
      <PlacesPart v-if="part === 'places'" :may-change="mayChange" />
      <DepartmentsPart v-else-if="part === 'departments'" :may-change="mayChange" />
      <OwnFieldsPart v-else-if="part === 'own-fields'" :may-change="mayChange" />
      <RulesPart v-else-if="part === 'rules'" :may-change="mayChange" />
      <CardRulesPart v-else-if="part === 'cards'" :may-change="mayChange" />
      <BiometricRulesPart v-else-if="part === 'biometrics'" :may-change="mayChange" />
      <ReadersPart v-else-if="part === 'readers'" :may-change="mayChange" />
      <OperatorsPart v-else-if="part === 'operators'" />
      <RolesPart v-else-if="part === 'roles'" />
      <TokensPart v-else-if="part === 'tokens'" />
      <ListPart v-else :key="part" :which="part" :may-change="mayChange" />
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 220px 1fr;
  height: 100%;
  min-height: 0;
}
.side {
  padding: 14px 12px 0 20px;
  border-right: 1px solid var(--p-cadrin-hairline);
  overflow: auto;
}
nav {
  margin: 10px 0;
}
nav a {
  display: block;
  padding: 6px 8px;
  border-radius: 4px;
  color: inherit;
  text-decoration: none;
}
nav a:hover {
  background: var(--p-cadrin-teal-paper);
}
nav span {
  display: block;
  font-size: 12px;
  line-height: 1.3;
}
.here {
  background: var(--p-cadrin-teal-paper);
  box-shadow: inset 3px 0 0 var(--p-cadrin-teal);
}
.part {
  min-height: 0;
  padding: 14px 20px 24px;
  overflow: auto;
}
</style>
