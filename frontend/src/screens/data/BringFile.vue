<script setup lang="ts">
/** Drop or choose a file. What is wrong with it is said here, and nothing is kept of it. */
import { ref, useId } from 'vue'

import { Problem } from '@/api/client'
import { keys, useRefresh, useSession } from '@/api/queries'
import type { DataSet, Study } from '@/api/types'
import { fileSize } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { zipped } from './folder'
import { upload, type Upload } from './upload'

const props = defineProps<{ study: Study; mayChange: boolean; replaces?: DataSet }>()
const emit = defineEmits<{ brought: [dataset: DataSet] }>()

const id = useId()
const session = useSession()
const refresh = useRefresh()
const isOver = ref(false)
const error = ref<Error>()
const fileName = ref('')
const progress = ref<number>()
let running: Upload | undefined

async function bringFolder(files: FileList | null) {
  if (!files?.length) return
  if (![...files].some((file) => file.name === 'datapackage.json')) {
    error.value = new Error('This folder holds no datapackage.json, so it is no Data Package.')
    return
  }
  await bring(await zipped([...files]))
}

async function bring(file: File | undefined) {
  if (!file) return
  error.value = undefined
  fileName.value = file.name
  const limit = session.data.value?.upload_limit ?? Infinity
  if (file.size > limit) {
    error.value = new Error(
      `“${file.name}” has ${fileSize(file.size)}; this Hobrix takes files up to ${fileSize(limit)}.`,
    )
    return
  }
  progress.value = 0
  const base = `/api/studies/${props.study.id}/datasets`
  const address = props.replaces ? `${base}/${props.replaces.id}/replace` : base
  running = upload(address, file, (share) => (progress.value = share))
  try {
    const arrived = await running.done
    if ('dataset' in arrived) emit('brought', arrived.dataset)
    // All of the study: a quick job may be done before it is ever listed.
    else await refresh(...keys.study(props.study.id))
  } catch (reason) {
    if (!running.wasStopped()) error.value = named(reason as Error, file.name)
  } finally {
    progress.value = undefined
  }
}

function named(reason: Error, name: string): Error {
  return reason instanceof Problem ? new Error(`“${name}”: ${reason.message}`) : reason
}
</script>

<template>
  <section class="bring" aria-label="Bring a file">
    <div v-if="progress !== undefined" class="drop" role="status">
      <p class="serif big">
        {{ progress < 1 ? `Bringing ${fileName}` : `Reading ${fileName}` }}
      </p>
      <progress v-if="progress < 1" :value="progress" aria-label="Progress"></progress>
      <progress v-else aria-label="Progress"></progress>
      <button class="act" @click="running?.stop()">Stop</button>
    </div>
    <label
      v-else-if="mayChange"
      :for="id"
      class="drop"
      :class="{ over: isOver }"
      @dragover.prevent="isOver = true"
      @dragleave="isOver = false"
      @drop.prevent="((isOver = false), bring($event.dataTransfer?.files[0]))"
    >
      <span class="serif big"
        >{{ replaces ? `Drop a newer file of “${replaces.name}” here` : 'Drop a file here' }}, or
        <span class="act">choose one</span>.</span
      >
      <span v-if="replaces" class="quiet"
        >The changes made to the codebook are made again on the newer file, and the questions are
        asked of it. You see what moved, and can put the older file back.</span
      >
      <span v-else class="quiet"
        >A table: text (.csv, .tsv), a workbook (.xlsx, .ods), Parquet, or a Data Package (.zip).
        One row per case or per group. You see how it was understood before anything is asked of
        it.</span
      >
      <input
        :id="id"
        type="file"
        class="visually-hidden"
        accept=".csv,.tsv,.tab,.txt,.xlsx,.xlsm,.ods,.parquet,.zip"
        @change="bring(($event.target as HTMLInputElement).files?.[0])"
      />
    </label>
    <label v-if="mayChange && progress === undefined" class="act folder">
      Or choose a Data Package that is a folder
      <input
        type="file"
        class="visually-hidden"
        aria-label="Folder of a Data Package"
        webkitdirectory
        @change="bringFolder(($event.target as HTMLInputElement).files)"
      />
    </label>
    <p v-if="!mayChange" class="drop serif big">This study has no data yet.</p>
    <ErrorNote :error="error" />
  </section>
</template>

<style scoped>
.bring {
  display: grid;
  gap: 12px;
  max-width: 780px;
}
.drop {
  display: grid;
  gap: 8px;
  padding: 34px 30px;
  border: 1.5px dashed var(--hairline);
  border-radius: 10px;
  background: var(--sheet);
  cursor: pointer;
}
.drop.over,
.drop:focus-within {
  border-color: var(--pine);
}
.drop.over {
  background: var(--pine-soft);
}
.big {
  font-size: 1.3rem;
}
.folder {
  justify-self: start;
}
.folder:focus-within {
  outline: 2px solid var(--pine);
  outline-offset: 3px;
}
</style>
