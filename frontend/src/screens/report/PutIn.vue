<script setup lang="ts">
/** What the answers to the study's questions can give the page. */
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/types'
import AnswerGives from './AnswerGives.vue'
import type { Block } from './document'
import { lastAsked } from './lastAsked'
import { usePageNow } from './page'

const FEWEST = 2
const MOST = 8
const props = defineProps<{ questions: Schemas['QuestionOut'][] }>()
const emit = defineEmits<{
  put: [blocks: Block[]]
  take: [question: string, key: string]
  methods: []
}>()
const page = usePageNow()

const typed = ref('')
const shown = computed(() =>
  props.questions.filter(({ id }) =>
    page.titleOf(id).toLowerCase().includes(typed.value.trim().toLowerCase()),
  ),
)
const open = computed({
  get: () => lastAsked.value,
  set: (id) => (lastAsked.value = id),
})
const isComparing = ref(false)
const chosen = ref<string[]>([])
function compare() {
  emit('put', [{ type: 'comparison', questions: chosen.value, caption: '' }])
  isComparing.value = false
  chosen.value = []
}
</script>

<template>
  <section aria-label="Put in">
    <h2 class="overline">Put in, from your questions</h2>
    <input
      v-if="questions.length > 7"
      v-model="typed"
      class="line find"
      placeholder="Find a question"
      aria-label="Find a question"
    />
    <p v-if="!questions.length" class="quiet">
      Ask a question first; its answer can be put in here.
    </p>
    <ul>
      <li
        v-for="each in shown"
        :key="each.id"
        :class="{ sub: each.parent, open: open === each.id }"
      >
        <label v-if="isComparing">
          <input v-model="chosen" type="checkbox" :value="each.id" /> {{ page.titleOf(each.id) }}
        </label>
        <template v-else>
          <button
            class="title"
            :aria-expanded="open === each.id"
            @click="open = open === each.id ? undefined : each.id"
          >
            {{ page.titleOf(each.id) }}
          </button>
          <AnswerGives
            v-if="open === each.id"
            :question="each"
            @put="(block) => emit('put', [block])"
            @take="(key) => emit('take', each.id, key)"
          />
        </template>
      </li>
    </ul>
    <p v-if="isComparing" class="acts">
      <button
        class="act"
        :disabled="chosen.length < FEWEST || chosen.length > MOST"
        @click="compare"
      >
        Put these side by side
      </button>
      <button class="act" @click="isComparing = false">Leave it</button>
    </p>
    <p v-else class="acts">
      <button v-if="questions.length > 1" class="act" @click="isComparing = true">
        Answers side by side
      </button>
      <button class="act" @click="emit('methods')">Methods</button>
      <button class="act" @click="emit('put', [{ type: 'codebook', caption: '' }])">
        Variables used
      </button>
      <button class="act" @click="emit('put', [{ type: 'preparation', caption: '' }])">
        Preparation
      </button>
    </p>
  </section>
</template>

<style scoped>
.find {
  width: 100%;
  text-align: left;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: max(240px, calc(100vh - 480px));
  overflow-y: auto;
}
li {
  border-left: 2px solid var(--hairline);
  padding: 4px 0 4px 10px;
  line-height: 1.3;
  overflow-wrap: anywhere;
}
li.sub {
  margin-left: 10px;
}
li.open {
  border-color: var(--pine);
}
.title {
  text-align: left;
}
.open .title {
  font-weight: 600;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin-top: 8px;
}
</style>
