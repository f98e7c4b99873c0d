<script setup lang="ts">
/** Subsets kept in the study under a name: use one, keep the present one, let one go. */
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keys, useRefresh, useSubsets } from '@/api/queries'
import type { NamedSubset, Study, Subset } from '@/api/types'
import { useNotices } from '@/notices'

const props = defineProps<{ study: Study; subset: Subset | null | undefined }>()
const emit = defineEmits<{ use: [rule: Subset] }>()

const kept = useSubsets(() => props.study.id)
const refresh = useRefresh()
const notices = useNotices()
const name = ref('')
const path = () => ({ study_id: props.study.id })

async function keep(as: string, rule: Subset) {
  await unwrap(
    client.POST('/api/studies/{study_id}/subsets', {
      params: { path: path() },
      body: { name: as, rule },
    }),
  )
  await refresh(...keys.subsets(props.study.id))
}

async function keepThis() {
  const as = name.value.trim()
  if (!as || !props.subset) return
  try {
    await keep(as, props.subset)
    name.value = ''
    notices.say(`Kept as “${as}”.`)
  } catch (error) {
    notices.complain(error)
  }
}

async function letGo(subset: NamedSubset) {
  try {
    await unwrap(
      client.DELETE('/api/studies/{study_id}/subsets/{subset_id}', {
        params: { path: { ...path(), subset_id: subset.id } },
      }),
    )
    await refresh(...keys.subsets(props.study.id))
    notices.say(`“${subset.name}” is not kept any more.`, () =>
      keep(subset.name, subset.rule as Subset),
    )
  } catch (error) {
    notices.complain(error)
  }
}
</script>

<template>
  <section
    v-if="kept.data.value?.length || (subset && study.role !== 'reader')"
    aria-label="Kept subsets"
  >
    <ul v-if="kept.data.value?.length" class="kept">
      <li v-for="each in kept.data.value" :key="each.id">
        <button class="act" @click="emit('use', each.rule as Subset)">{{ each.name }}</button>
        <button
          v-if="study.role !== 'reader'"
          class="quiet"
          :aria-label="`Let ${each.name} go`"
          @click="letGo(each)"
        >
          ×
        </button>
      </li>
    </ul>
    <form v-if="subset && study.role !== 'reader'" class="keep" @submit.prevent="keepThis">
      <input
        v-model="name"
        maxlength="100"
        placeholder="Keep under a name"
        aria-label="Name of this subset"
      />
      <button class="act" :disabled="!name.trim()">Keep</button>
    </form>
  </section>
</template>

<style scoped>
.kept {
  list-style: none;
  margin: 0 0 6px;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}
.kept li {
  display: flex;
  gap: 6px;
}
.keep {
  display: flex;
  gap: 12px;
}
.keep input {
  flex: 1;
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 3px 2px;
}
</style>
