<script setup lang="ts">
/** The answer three ways: each row once, with the weights only, and with the whole design. */
import type { Survey } from '@/api/types'
import { percent, pValue, short } from '@/design/numbers'
import { limitsOf, ratioOf } from './shareWords'

type Beside = NonNullable<Survey['beside']>
type Row = Beside['rows'][number]

defineProps<{ beside: Beside; noun: string }>()

const write = { share: percent, number: short, p: pValue }

function written(unit: Row['unit'], value: number | 'Infinity'): string {
  return unit === 'ratio' || value === 'Infinity' ? ratioOf(value) : write[unit](value)
}

function limits(unit: Row['unit'], ci: Row['design']['ci']): string {
  if (unit === 'number' && ci) return ci.map((end) => written(unit, end)).join(' to ')
  return unit === 'share' ? limitsOf(ci, 100, 1) : limitsOf(ci)
}
</script>

<template>
  <section class="beside" aria-label="Three ways side by side">
    <h3 class="overline">With and without</h3>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col"></th>
            <th scope="col">each {{ noun }} once</th>
            <th scope="col">weights only</th>
            <th scope="col">with the design</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in beside.rows" :key="row.label">
            <th scope="row">{{ row.label }}</th>
            <td v-for="way in [row.unweighted, row.weights_only, row.design]" :key="String(way)">
              <template v-if="way"
                >{{ written(row.unit, way.estimate) }}
                <small class="quiet">{{ limits(row.unit, way.ci) }}</small></template
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="quiet">{{ beside.moved }}</p>
  </section>
</template>

<style scoped>
.beside {
  margin-bottom: 16px;
  padding-bottom: 10px;
  border-bottom: 1px solid var(--hairline);
}
.scroll {
  overflow-x: auto;
}
small {
  white-space: nowrap;
}
</style>
