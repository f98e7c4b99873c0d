/** A report that `make_answers.py` had from the core about the demo data, and the page around a part. */
import { VueQueryPlugin } from '@tanstack/vue-query'
import { readFileSync } from 'node:fs'
import { createPinia } from 'pinia'
import { mount, RouterLinkStub } from '@vue/test-utils'
import { createVuetify } from 'vuetify'
import { computed, defineComponent, h, ref, type Component } from 'vue'

import type { Schemas } from '@/api/types'
import { provideReport } from '@/screens/report/answerParts'
import type { Named } from '@/screens/report/document'
import { providePage } from '@/screens/report/page'

interface File {
  report: { blocks: Named[]; page: Schemas['PageOut']; parts: Schemas['AnswerParts'] }
}
const file = JSON.parse(readFileSync('tests/answers.json', 'utf8')) as File

export const reported = () => structuredClone(file.report)

/** Mounts a part of the report's screen as it stands within the page. */
export function mountOnPage(
  part: Component,
  props: Record<string, unknown>,
  looked: (names: string[]) => void = () => undefined,
  isReader = false,
) {
  const { page } = reported()
  const inner = ref<unknown>()
  const around = defineComponent({
    setup() {
      providePage(ref(page), {
        look: looked,
        isReader: computed(() => isReader),
        decimalComma: ref(false),
        titleOf: (question) => (question === 'q' ? 'By source?' : 'gone'),
      })
      provideReport({ study: ref('s'), report: ref('r'), style: ref('{}') })
      return () => h(part, { ...props, ref: inner })
    },
  })
  const shown = mount(around, {
    attachTo: document.body,
    global: {
      plugins: [VueQueryPlugin, createPinia(), createVuetify()],
      stubs: { RouterLink: RouterLinkStub },
    },
  })
  return { shown, inner }
}
