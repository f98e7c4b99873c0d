<script setup lang="ts">
/** Lenders: which answer now, what they offer, searched by title and by variables. */
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keys, useLenders, useRefresh } from '@/api/queries'
import type { DataSet, Schemas, Study } from '@/api/types'
import { count } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'

type Lender = Schemas['LenderOut']
type Offer = Lender['offers'][number]

const props = defineProps<{ study: Study; datasets: readonly DataSet[] }>()
const emit = defineEmits<{ brought: [dataset: { id: string }] }>()

const lenders = useLenders(() => props.study.id)
const refresh = useRefresh()
const typed = ref('')
const bringing = ref('')
const error = ref<Error>()

/** The variables of an offer that hold what was typed; all offers while nothing is. */
function hits(offer: Offer): string[] | undefined {
  const wanted = typed.value.trim().toLowerCase()
  if (!wanted) return []
  const has = (text: string) => text.toLowerCase().includes(wanted)
  const found = offer.variables.filter(({ name, label }) => has(name) || has(label))
  if (!found.length && !has(offer.title) && !has(offer.description)) return undefined
  return found.map(({ name, label }) => label || name)
}

const shown = computed(() =>
  (lenders.data.value ?? []).map((lender) => ({
    lender,
    offers: lender.offers.flatMap((offer) => {
      const found = hits(offer)
      return found ? [{ offer, found }] : []
    }),
  })),
)

const isHere = (lender: Lender, offer: Offer) =>
  props.datasets.some((each) => each.lender === lender.name && each.offer === offer.name)

async function bring(lender: Lender, offer: Offer) {
  error.value = undefined
  bringing.value = offer.name
  try {
    const made = (await unwrap(
      client.POST('/api/studies/{study_id}/lenders/{lender_id}/{offer}', {
        params: { path: { study_id: props.study.id, lender_id: lender.id, offer: offer.name } },
      }),
    )) as DataSet
    await refresh(...keys.study(props.study.id))
    emit('brought', made)
  } catch (reason) {
    error.value = reason as Error
  } finally {
    bringing.value = ''
  }
}
</script>

<template>
  <section class="lenders" aria-label="Lenders">
    <p v-if="lenders.isPending.value" role="status" class="quiet">Asking the lenders</p>
    <ErrorNote :error="lenders.error.value ?? error" />
    <p v-if="lenders.data.value && !lenders.data.value.length" class="quiet">
      No lender is named on this Hobrix. Whoever runs it can name some.
    </p>
    <input
      v-if="lenders.data.value?.length"
      v-model="typed"
      class="line search"
      placeholder="Search what they offer"
      aria-label="Search what they offer"
    />
    <div v-for="{ lender, offers } in shown" :key="lender.id" class="lender">
      <h3>
        <span class="dot" :class="{ away: lender.why_not }" aria-hidden="true" />{{ lender.name }}
        <small class="quiet">{{ lender.why_not || 'answers now' }}</small>
      </h3>
      <ul>
        <li v-for="{ offer, found } in offers" :key="offer.name">
          <p>
            <b class="title">{{ offer.title }}</b>
            <span class="quiet">
              {{
                [
                  offer.years,
                  `${count(offer.rows)} rows`,
                  offer.case ? 'several rows per case' : '',
                ]
                  .filter(Boolean)
                  .join(' · ')
              }}</span
            >
          </p>
          <p v-if="offer.description">{{ offer.description }}</p>
          <p v-if="found.length" class="quiet">holds {{ found.slice(0, 6).join(', ') }}</p>
          <p v-if="offer.terms" class="quiet">under terms: {{ offer.terms }}</p>
          <p>
            <span v-if="isHere(lender, offer)" class="quiet">is in this study</span>
            <button
              v-else-if="study.role !== 'reader'"
              class="act"
              :disabled="!!bringing"
              @click="bring(lender, offer)"
            >
              {{ bringing === offer.name ? 'Bringing it in' : 'Bring it in' }}
            </button>
          </p>
        </li>
        <li v-if="!lender.why_not && !offers.length" class="quiet">
          {{ typed ? `Nothing holds “${typed}”.` : 'It offers nothing now.' }}
        </li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.lenders {
  display: grid;
  gap: 14px;
  max-width: 780px;
}
.search {
  text-align: left;
  max-width: 320px;
}
h3 {
  font-size: 1.05rem;
}
.dot {
  display: inline-block;
  width: 9px;
  height: 9px;
  border-radius: 50%;
  background: var(--pine);
  margin-right: 8px;
}
.dot.away {
  background: none;
  border: 1.5px solid var(--quiet);
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
  display: grid;
  gap: 12px;
}
.title {
  margin-right: 8px;
}
li {
  border-left: 2px solid var(--hairline);
  padding-left: 14px;
}
</style>
