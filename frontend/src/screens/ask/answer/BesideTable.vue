<script setup lang="ts">
/** The answer three ways: each row once, with the weights only, and with the whole design. */
import type { Schemas } from '@/api/types'
import { limits, percent, points, pValue, ratio, short, two } from '@/design/numbers'

type Row = Schemas['BesideRow']
type Way = Schemas['OneWay']

defineProps<{ beside: Schemas['Beside']; noun: string }>()

const write = { share: percent, ratio, number: short, strength: two, p: pValue }
const ends = { ...write, share: points }

function written(unit: Row['unit'], { estimate }: Way): string {
  return estimate === 'Infinity' ? ratio(estimate) : write[unit](estimate)
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
            <td v-for="(way, i) in [row.unweighted, row.weights_only, row.design]" :key="i">
              <template v-if="way"
                >{{ written(row.unit, way) }}
                <small class="quiet">{{ limits(way.ci, ends[row.unit]) }}</small></template
              ><span v-else class="quiet" title="It has no such number when counted so">—</span>
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
small {
  white-space: nowrap;
}
</style>
