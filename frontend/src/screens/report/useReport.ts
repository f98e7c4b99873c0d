/** A report as it is written: kept as it is typed, with what others write meanwhile. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, reactive, ref, shallowRef, toValue, watch } from 'vue'
import type { MaybeRefOrGetter } from 'vue'

import { client, unwrap } from '@/api/client'
import type { Schemas } from '@/api/types'
import { useNotices } from '@/notices'
import { changesBetween, isSame, merged, type Known } from './changes'
import type { Named } from './document'

type Report = Schemas['ReportOut']
const SAVE_AFTER = 500
const LOOK_EVERY = 2000

export function useReport(
  study: MaybeRefOrGetter<string>,
  id: MaybeRefOrGetter<string>,
  isReader: MaybeRefOrGetter<boolean>,
) {
  const queries = useQueryClient()
  const notices = useNotices()
  const path = () => ({ study_id: toValue(study), report_id: toValue(id) })
  const key = (what: string) => ['study', toValue(study), 'report', toValue(id), what]

  const known = new Map<string, Known>()
  let order: string[] = []
  let mine: Named[] = []
  /** What the editor should show; set where somebody else has written. */
  const blocks = shallowRef<Named[]>()
  /** The stamp of all that has been taken in; that of the page may be newer. */
  let taken = ''
  const state = reactive({ isSaving: false, trouble: '', stamp: '' })
  /** Blocks that somebody else has changed too, as they have them. */
  const conflicts = ref<Schemas['BlockOut'][]>([])

  /** Counts what was sent: what the server read before that is old when it arrives. */
  let sendings = 0
  const readAt = new WeakMap<Report, number>()

  const report = useQuery({
    queryKey: computed(() => key('blocks')),
    queryFn: async () => {
      const at = sendings
      const found = await unwrap(
        client.GET('/api/studies/{study_id}/reports/{report_id}', { params: { path: path() } }),
      )
      readAt.set(found, at)
      return found
    },
    staleTime: Infinity,
    // Each reading is one of its own.
    structuralSharing: false,
  })
  const page = useQuery({
    queryKey: computed(() => [...key('page'), state.stamp]),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/reports/{report_id}/page', {
          params: { path: path() },
        }),
      ),
    enabled: () => !!state.stamp,
    placeholderData: (previous) => previous,
    staleTime: Infinity,
  })
  useQuery({
    queryKey: computed(() => key('stamp')),
    queryFn: async () => {
      const found = await unwrap(
        client.GET('/api/studies/{study_id}/reports/{report_id}/stamp', {
          params: { path: path() },
        }),
      )
      if (taken && found.stamp !== taken && !state.isSaving) await report.refetch()
      return found
    },
    refetchInterval: LOOK_EVERY,
    gcTime: 0,
  })

  function unsent(): Set<string> {
    return new Set(changesBetween(known, order, mine).map(({ name }) => name))
  }

  function take(found: Report) {
    const dirty = blocks.value ? unsent() : new Set<string>()
    const theirs = found.blocks.map(({ name, block }) => ({ name, block }))
    const next = blocks.value ? merged(theirs, mine, dirty) : theirs
    for (const name of [...known.keys()])
      if (!dirty.has(name) && !theirs.some((each) => each.name === name)) known.delete(name)
    for (const { name, version, block } of found.blocks)
      if (!dirty.has(name)) known.set(name, { version, block })
    order = found.blocks.map(({ name }) => name).filter((name) => known.has(name))
    if (!blocks.value || !isSame(next, mine)) {
      mine = next
      blocks.value = next
    }
    taken = state.stamp = found.stamp
  }
  watch(
    () => report.data.value,
    (found) => {
      const isOld = found && (readAt.get(found) ?? sendings) !== sendings
      if (found && !isOld && !state.isSaving) take(found)
    },
    { immediate: true },
  )

  let timer: ReturnType<typeof setTimeout> | undefined
  function written(now: Named[]) {
    mine = now
    clearTimeout(timer)
    if (!toValue(isReader)) timer = setTimeout(save, SAVE_AFTER)
  }

  async function save() {
    clearTimeout(timer)
    timer = undefined
    const blocked = new Set(conflicts.value.map(({ name }) => name))
    const sent = changesBetween(known, order, mine).filter(({ name }) => !blocked.has(name))
    if (!sent.length || state.isSaving) return
    const names = mine.map(({ name }) => name)
    state.isSaving = true
    sendings += 1
    try {
      const found = await unwrap(
        client.POST('/api/studies/{study_id}/reports/{report_id}/changes', {
          params: { path: path() },
          body: { changes: sent },
        }),
      )
      const refused = new Set(found.stale.map(({ name }) => name))
      for (const change of sent)
        if (!refused.has(change.name)) {
          if (change.block === null) known.delete(change.name)
          else
            known.set(change.name, {
              version: found.versions[change.name]!,
              block: change.block,
            })
        }
      order = names.filter((name) => known.has(name))
      conflicts.value = [...conflicts.value, ...found.stale]
      if (found.before === taken) taken = found.stamp
      state.stamp = found.stamp
      state.trouble = ''
    } catch (error) {
      state.trouble = error instanceof Error ? error.message : String(error)
      timer = setTimeout(save, LOOK_EVERY)
    } finally {
      sendings += 1
      state.isSaving = false
    }
    if (!state.trouble && changesBetween(known, order, mine).length > conflicts.value.length)
      timer ??= setTimeout(save, SAVE_AFTER)
  }

  /** Of a block that two have changed: keep what is written here, or take theirs. */
  function settle(theirs: Schemas['BlockOut'], keeps: boolean) {
    conflicts.value = conflicts.value.filter(({ name }) => name !== theirs.name)
    known.set(theirs.name, { version: theirs.version, block: theirs.block })
    if (!order.includes(theirs.name)) order.push(theirs.name)
    if (!keeps) {
      mine = mine.map((each) =>
        each.name === theirs.name ? { name: each.name, block: theirs.block } : each,
      )
      blocks.value = mine
    }
    void save()
  }

  async function look(names: string[]) {
    try {
      await unwrap(
        client.POST('/api/studies/{study_id}/reports/{report_id}/looked-at', {
          params: { path: path() },
          body: { names },
        }),
      )
      await report.refetch()
    } catch (error) {
      notices.complain(error)
    }
  }

  async function change(changes: Omit<Schemas['ReportChange'], 'version'>) {
    const now = report.data.value
    if (!now) return
    try {
      const found = await unwrap(
        client.PATCH('/api/studies/{study_id}/reports/{report_id}', {
          params: { path: path() },
          body: { ...changes, version: now.version },
        }),
      )
      queries.setQueryData(key('blocks'), found)
      void queries.invalidateQueries({ queryKey: ['study', toValue(study), 'reports'] })
    } catch (error) {
      notices.complain(error)
      await report.refetch()
    }
  }

  const leaving = (event: BeforeUnloadEvent) => {
    if (unsent().size) event.preventDefault()
    void save()
  }
  window.addEventListener('beforeunload', leaving)
  onBeforeUnmount(() => {
    window.removeEventListener('beforeunload', leaving)
    void save()
  })

  return { report, page, blocks, state, conflicts, written, save, settle, look, change }
}
