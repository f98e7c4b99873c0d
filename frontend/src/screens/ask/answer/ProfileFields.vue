<script lang="ts">
export type Profile = Record<string, string | number>
</script>

<script setup lang="ts">
/** Profiles side by side, with a field for each variable; what is predicted for them stands below. */
import type { Schemas } from '@/api/types'
import { inField } from '@/design/numbers'
import DraftInput from '@/parts/DraftInput.vue'
import { numberIn } from '@/parts/typed'

const MOST = 6
const props = defineProps<{
  slots: readonly Schemas['ProfileSlot'][]
  profiles: readonly Profile[]
}>()
const emit = defineEmits<{ change: [profiles: Profile[]] }>()

function add() {
  const usual = Object.fromEntries(props.slots.map(({ variable, usual }) => [variable, usual]))
  emit('change', [...props.profiles, props.profiles.at(-1) ?? usual])
}

function set(i: number, variable: string, value: string | number) {
  const next = props.profiles.map((each, at) => (at === i ? { ...each, [variable]: value } : each))
  emit('change', next)
}

function setNumber(i: number, variable: string, text: string, putBack: () => void) {
  const value = numberIn(text)
  if (value === null) putBack()
  else set(i, variable, value)
}

function remove(i: number) {
  emit(
    'change',
    props.profiles.filter((_, at) => at !== i),
  )
}

const nameOf = (i: number) => String.fromCharCode(65 + i)

function isBeyond(i: number, { variable, low, high }: Schemas['ProfileSlot']): boolean {
  const value = Number(props.profiles[i]![variable])
  return low !== null && high !== null && (value < low || value > high)
}
</script>

<template>
  <div v-if="profiles.length" class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col"></th>
          <th v-for="(_, i) in profiles" :key="i" scope="col">
            {{ nameOf(i) }}
            <button class="drop" :aria-label="`Remove profile ${nameOf(i)}`" @click="remove(i)">
              ×
            </button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="slot in slots" :key="slot.variable">
          <th scope="row">{{ slot.title }}</th>
          <td v-for="(profile, i) in profiles" :key="i">
            <select
              v-if="slot.categories.length"
              class="line"
              :value="profile[slot.variable] ?? slot.usual"
              :aria-label="`${slot.title}, profile ${nameOf(i)}`"
              @change="set(i, slot.variable, ($event.target as HTMLSelectElement).value)"
            >
              <option v-for="[value, label] in slot.categories" :key="value" :value="value">
                {{ label }}
              </option>
            </select>
            <template v-else>
              <DraftInput
                class="line"
                inputmode="decimal"
                :value="profile[slot.variable] ?? slot.usual"
                :aria-label="`${slot.title}, profile ${nameOf(i)}`"
                @take="(text, putBack) => setNumber(i, slot.variable, text, putBack)"
              />
              <small v-if="isBeyond(i, slot)" class="beyond"
                >beyond {{ inField(slot.low) }} to {{ inField(slot.high) }}</small
              >
            </template>
          </td>
        </tr>
        <slot />
      </tbody>
    </table>
  </div>
  <p v-if="profiles.length < MOST">
    <button class="act" @click="add">
      {{ profiles.length ? 'Another profile beside it' : 'Try a profile' }}
    </button>
  </p>
</template>

<style scoped>
select {
  max-width: 150px;
}
input {
  width: 80px;
}
.beyond {
  display: block;
  color: var(--more-ink);
}
.drop {
  color: var(--quiet);
  padding: 0 3px;
}
</style>
