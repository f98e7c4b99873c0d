<script setup lang="ts">
/**
 * A Vega-Lite picture. Marks named "tiles" can be walked with the arrow keys and chosen; each
 * says itself in words.
 */
import type { Result } from 'vega-embed'
import { computed, onUnmounted, ref, shallowRef, watch } from 'vue'

import { useSession } from '@/api/queries'
import type { FigureSpec } from '@/api/types'
import { useLooks } from '@/looks'
import { adjust, grown, labelsIn, saved, type Adjusted } from './figures'
import { useRoom } from './useRoom'

export interface Tile {
  row: number
  column: number
  text: string
}

const props = defineProps<{
  spec: FigureSpec
  label: string
  marked?: Tile | null
  /** File name to save it under; without one it cannot be saved or adjusted. */
  name?: string
  /** One of many: it keeps its size. */
  isSmall?: boolean
  /** Its axes write decimals after a comma. */
  decimalComma?: boolean
}>()
const emit = defineEmits<{ choose: [tile: Tile]; look: [tile: Tile | null] }>()

const session = useSession()
const looks = useLooks()
const place = ref<HTMLElement>()
const picture = shallowRef<Result>()
const adjusted = ref<Adjusted>({ title: '', size: 100, palette: '', labels: {} })
// More than these would be a second table.
const MOST_LABELS = 24
const labels = computed(() => labelsIn(props.spec))
const config = computed(() => {
  const usual = session.data.value?.figure_config[looks.theme]
  const other = session.data.value?.figure_palettes[looks.theme]?.[adjusted.value.palette]
  return usual && other ? { ...usual, ...other } : usual
})
/** Room is kept while the picture is drawn, so that nothing below it jumps. */
const height = computed(() => Number(props.spec.height) || 120)
const room = useRoom(place)
const drawn = computed(() =>
  adjust(props.isSmall ? props.spec : grown(props.spec, room.value), adjusted.value),
)

type TileElement = SVGPathElement & { __data__: { datum: Tile } }

function tiles(): TileElement[] {
  const group = place.value?.querySelectorAll<TileElement>(
    '.mark-rect.tiles path, .tiles_marks path',
  )
  return group ? [...group] : []
}

function makeTilesReachable() {
  tiles().forEach((element, i) => {
    const tile = element.__data__.datum
    element.setAttribute('tabindex', i === 0 ? '0' : '-1')
    element.setAttribute('role', 'button')
    element.setAttribute('aria-label', tile.text)
    element.removeAttribute('aria-roledescription')
    element.addEventListener('focus', () => emit('look', tile))
    element.addEventListener('blur', () => emit('look', null))
    element.addEventListener('mouseenter', () => emit('look', tile))
    element.addEventListener('mouseleave', () => emit('look', null))
    element.addEventListener('click', () => emit('choose', tile))
    element.addEventListener('keydown', (event) => walk(event, i))
  })
  showMarked()
}

function walk(event: KeyboardEvent, from: number) {
  const all = tiles()
  const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key]
  if (event.key === 'Enter' || event.key === ' ') emit('choose', all[from]!.__data__.datum)
  else if (step) {
    const next = all[(from + step + all.length) % all.length]!
    all.forEach((element) => element.setAttribute('tabindex', element === next ? '0' : '-1'))
    next.focus()
  } else return
  event.preventDefault()
}

function showMarked() {
  for (const element of tiles()) {
    const { row, column } = element.__data__.datum
    const isMarked = props.marked?.row === row && props.marked?.column === column
    element.classList.toggle('marked', isMarked)
    element.setAttribute('aria-pressed', String(isMarked))
  }
}

let turn = 0
/** As the documents write them: a narrow space between thousands. */
const COMMA = { decimal: ',', thousands: '\u202f', grouping: [3], currency: ['', ''] }

watch(
  [drawn, config, place, () => props.decimalComma],
  async ([spec, look, element, comma]) => {
    if (!look || !element) return
    const mine = ++turn
    const [{ default: embed }, { expressionInterpreter }] = await Promise.all([
      import('vega-embed'),
      import('vega-interpreter'),
    ])
    if (mine !== turn) return
    picture.value?.finalize()
    picture.value = await embed(element, toPlain(spec) as never, {
      mode: 'vega-lite',
      ast: true,
      expr: expressionInterpreter,
      renderer: 'svg',
      actions: false,
      defaultStyle: false,
      tooltip: false,
      config: toPlain(look),
      ...(comma ? { formatLocale: COMMA as never } : {}),
    })
    if (mine === turn) makeTilesReachable()
  },
  { immediate: true },
)
watch(() => props.marked, showMarked)
onUnmounted(() => picture.value?.finalize())

async function save(kind: 'svg' | 'png') {
  const view = picture.value?.view
  if (view) await saved(view, kind, props.name ?? 'picture')
}

function toPlain<T>(value: T): T {
  return JSON.parse(JSON.stringify(value)) as T
}
</script>

<template>
  <figure class="figure" role="group" :aria-label="label">
    <div ref="place" class="place" :style="{ minHeight: `${height}px` }" />
    <details v-if="name" class="adjust">
      <summary class="quiet">Adjust or save this picture</summary>
      <p>
        <label
          >Title
          <input v-model.lazy="adjusted.title" type="text" class="title" />
        </label>
        <label
          >Size
          <select v-model="adjusted.size">
            <option :value="75">smaller</option>
            <option :value="100">as it is</option>
            <option :value="140">larger</option>
            <option :value="200">twice</option>
          </select>
        </label>
        <label
          >Colours
          <select v-model="adjusted.palette">
            <option value="">as usual</option>
            <option value="blue">blue and orange</option>
            <option value="grey">grey</option>
          </select>
        </label>
        <button class="act" @click="save('svg')">Save as SVG</button>
        <button class="act" @click="save('png')">Save as PNG</button>
      </p>
      <details v-if="labels.length && labels.length <= MOST_LABELS" class="labels">
        <summary class="quiet">Other words for its labels</summary>
        <p>
          <label v-for="word in labels" :key="word"
            >{{ word }}
            <input v-model.lazy="adjusted.labels[word]" type="text" :placeholder="word" />
          </label>
        </p>
      </details>
    </details>
  </figure>
</template>

<style scoped>
.figure {
  margin: 0;
}
.place :deep(path) {
  outline-offset: 1px;
}
.place :deep(path.marked) {
  stroke: var(--ink);
  stroke-width: 3px;
}
.place :deep(path:focus) {
  outline: none;
}
.place :deep(path:focus-visible) {
  stroke: var(--pine);
  stroke-width: 3px;
  outline: none;
}
.place :deep(.mark-text) {
  pointer-events: none;
}
.place :deep(details) {
  display: none;
}
.labels p {
  max-width: 500px;
}
.labels label {
  display: grid;
  flex: 0 0 150px;
}
.labels input {
  min-width: 0;
}
.adjust {
  font-size: 0.87rem;
}
.adjust summary {
  cursor: pointer;
  display: list-item;
}
.adjust p {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  padding: 4px 0;
}
.adjust input,
.adjust select {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 0;
  border-bottom: 1px solid var(--hairline);
}
</style>
