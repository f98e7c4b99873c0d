<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, watch, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useTheme } from 'vuetify'

import { useSession } from '@/api/queries'
import NoticeBar from '@/parts/NoticeBar.vue'
import ShortcutList from '@/parts/ShortcutList.vue'
import CommandField from '@/parts/CommandField.vue'
import { hearShortcuts, useShortcuts } from '@/shortcuts'
import { useLooks } from '@/looks'

const session = useSession()
const route = useRoute()
const router = useRouter()
const looks = useLooks()
const theme = useTheme()
const listsShortcuts = ref(false)
/** For those who are not signed in, too. */
const isOpen = (name: unknown) => name === 'sign-in' || name === 'join'
const mayShow = computed(
  () => session.data.value && (session.data.value.user || isOpen(route.name)),
)

watchEffect(() => theme.change(looks.theme))

watch(
  () => [session.data.value?.user, route.name] as const,
  ([user, name]) => {
    if (!session.data.value || !name) return
    if (!user && !isOpen(name)) router.replace({ name: 'sign-in', query: { to: route.fullPath } })
    if (user && name === 'sign-in') router.replace(String(route.query.to ?? '/'))
  },
  { immediate: true },
)

useShortcuts('Everywhere', [
  { key: '?', words: 'List the shortcuts', run: () => (listsShortcuts.value = true) },
  { key: 'L', words: 'Light or dark', run: looks.turn },
])
onMounted(() => window.addEventListener('keydown', hearShortcuts))
onUnmounted(() => window.removeEventListener('keydown', hearShortcuts))
</script>

<template>
  <v-app>
    <p v-if="session.isError.value" class="unreachable" role="alert">
      Hobrix cannot be reached. <button class="act" @click="session.refetch()">Try again</button>
    </p>
    <router-view v-else-if="mayShow" />
    <NoticeBar />
    <CommandField v-if="session.data.value?.user" />
    <ShortcutList v-model="listsShortcuts" />
  </v-app>
</template>

<style scoped>
.unreachable {
  padding: 20vh 24px 0;
  text-align: center;
}
</style>
