/** Editors mounted on what the server sent about the data sets that the demo makes of others. */
import { readFileSync } from 'node:fs'

import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { defineComponent, h, ref } from 'vue'
import { createVuetify } from 'vuetify'
import { createMemoryHistory, createRouter } from 'vue-router'

import type { DataSet, Entry, Recipe, RecipeLook, Schemas, Study, Variable } from '@/api/types'
import { editors } from '@/screens/data/bring/editors'

interface Sent {
  recipe: Recipe
  look: RecipeLook
  alike: Schemas['Alike'][]
  sources: { name: string; cases: DataSet['cases']; codebook: Variable[] }[]
}
const file = JSON.parse(readFileSync('tests/answers.json', 'utf8')) as {
  brought: Record<string, Sent>
}

export const brought = (name: string): Sent => structuredClone(file.brought[name]!)

const nothing = { kind: 'categories', counts: [], different: 0, missing: [], n_missing: 0 }
export const entriesOf = (codebook: Variable[]) =>
  codebook.map((variable) => ({ variable, summary: nothing, made_from: [] }) as unknown as Entry)

export const router = () =>
  createRouter({
    history: createMemoryHistory(),
    routes: ['', 'data', 'made', 'bring', 'ask', 'codebook'].map((name) => ({
      path: `/${name}/:study?/:dataset?`,
      name,
      component: { render: () => null },
    })),
  })

/** The editor of one of them; `changed` holds each recipe it asked for, the last one is shown. */
export function edit<R extends Recipe>(name: string, more: { mayChange?: boolean } = {}) {
  const sent = brought(name)
  const changed: R[] = []
  const recipe = ref(sent.recipe)
  const sources = sent.sources.map(
    (source, i) => ({ ...source, id: `d${i}`, counted_by: { kind: 'each' } }) as never as DataSet,
  )
  const Host = defineComponent({
    setup: () => () =>
      h(editors[sent.recipe.recipe] as never, {
        study: { id: 's1', role: 'owner' } as Study,
        recipe: recipe.value,
        sources,
        codebooks: sent.sources.map(({ codebook }) => entriesOf(codebook)),
        look: sent.look,
        problem: null,
        mayChange: more.mayChange ?? true,
        onChange(next: R) {
          changed.push(next)
          recipe.value = next
        },
      }),
  })
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const wrapper = mount(Host, {
    attachTo: document.body,
    global: {
      plugins: [createVuetify(), createPinia(), router(), [VueQueryPlugin, { queryClient }]],
    },
  })
  return { wrapper, changed, sent }
}
