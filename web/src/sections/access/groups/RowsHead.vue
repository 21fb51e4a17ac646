<script setup lang="ts">
import { Plus } from '@lucide/vue'
import Button from 'primevue/button'

/** What stands above rows that can be added to: their title, the button, and a word where there is none. */
defineProps<{ title: string; add: string; empty: string; isEmpty: boolean; mayEdit: boolean }>()
const emit = defineEmits<{ add: [] }>()
</script>

<template>
  <div class="row head">
    <h2>{{ title }}</h2>
    <Button v-if="mayEdit" size="small" severity="secondary" class="push" @click="emit('add')">
      <Plus :size="14" aria-hidden="true" /> {{ add }}
    </Button>
  </div>
  <p v-if="isEmpty" class="quiet">{{ empty }}</p>
</template>

<style scoped>
.head {
  margin: 18px 0 6px;
}
</style>
