<script setup lang="ts">
/** What this installation holds: people, studies, sizes and work. No data, and no way into a study. */
import { useOverview } from '@/api/people'
import { useSession } from '@/api/queries'
import { count, fileSize } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import PageHead from '../PageHead.vue'

const session = useSession()
const overview = useOverview(() => session.data.value?.is_operator ?? false)
const day = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium' })
</script>

<template>
  <PageHead />
  <main class="operator">
    <h1 class="serif">This installation</h1>
    <ErrorNote v-if="overview.isError.value" :error="overview.error.value" />
    <p v-else-if="!session.data.value?.is_operator">
      Only who runs Hobrix here sees this (<code>hobrix user operator NAME</code>).
    </p>
    <template v-else-if="overview.data.value">
      <p class="quiet">
        Hobrix {{ overview.data.value.version }} · database
        {{ fileSize(overview.data.value.home.database) }} · files
        {{ fileSize(overview.data.value.home.files) }} · free
        {{ fileSize(overview.data.value.home.free) }}
      </p>
      <h2 class="overline">People</h2>
      <table class="lines">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col" class="number">Studies</th>
            <th scope="col" class="number">Files</th>
            <th scope="col">Last signed in</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in overview.data.value.people" :key="each.name">
            <th scope="row">
              {{ each.name }}<span v-if="each.is_operator" class="quiet"> · operator</span>
            </th>
            <td class="number">{{ count(each.studies) }}</td>
            <td class="number">{{ fileSize(each.bytes) }}</td>
            <td>{{ each.last_seen ? day.format(new Date(each.last_seen)) : 'never' }}</td>
          </tr>
        </tbody>
      </table>
      <h2 class="overline">Studies</h2>
      <table class="lines">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">Owners</th>
            <th scope="col" class="number">People</th>
            <th scope="col" class="number">Data sets</th>
            <th scope="col" class="number">Rows</th>
            <th scope="col" class="number">Files</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in overview.data.value.studies" :key="each.id">
            <th scope="row">
              {{ each.name }}<span v-if="each.is_deleted" class="quiet"> · deleted</span>
            </th>
            <td>{{ each.owners }}</td>
            <td class="number">{{ count(each.people) }}</td>
            <td class="number">{{ count(each.datasets) }}</td>
            <td class="number">{{ count(each.rows) }}</td>
            <td class="number">{{ fileSize(each.bytes) }}</td>
          </tr>
        </tbody>
      </table>
      <h2 class="overline">Work</h2>
      <p v-if="!overview.data.value.jobs.length" class="quiet">None so far.</p>
      <table v-else class="lines">
        <tbody>
          <tr v-for="(each, i) in overview.data.value.jobs" :key="i">
            <th scope="row">{{ each.what }}</th>
            <td>{{ each.study }}</td>
            <td>{{ each.state }}</td>
            <td>{{ day.format(new Date(each.made_at)) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </main>
</template>

<style scoped>
.operator {
  max-width: 980px;
  width: 100%;
  margin: 0 auto;
  padding: 36px 24px;
}
h1 {
  font-size: 1.8rem;
}
h2 {
  margin: 24px 0 6px;
}
.lines {
  width: 100%;
  border-collapse: collapse;
}
.lines th,
.lines td {
  text-align: left;
  font-weight: 400;
  padding: 7px 10px 7px 0;
  border-bottom: 1px solid var(--hairline);
}
.lines thead th {
  color: var(--quiet);
}
.lines .number {
  text-align: right;
}
.lines .number + :not(.number) {
  padding-left: 24px;
}
</style>
