<script setup lang="ts">
/** The head of every page: mark, study, screens, find, and who is signed in. */
import { mdiAccountCircleOutline, mdiThemeLightDark, mdiLogoutVariant } from '@mdi/js'
import { useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import type { Here } from '@/api/people'
import { keys, useSession } from '@/api/queries'
import BrandMark from '@/parts/BrandMark.vue'
import { useInView } from '@/inView'
import { useCommandField } from '@/parts/commandField'
import { useLooks } from '@/looks'
import { useNotices } from '@/notices'
import { SCREENS } from './names'
import WhoIsHere from './people/WhoIsHere.vue'

defineProps<{ studyName?: string; studyId?: string; here?: Here[] }>()

const route = useRoute()
/** Bringing data sets together belongs to Data. */
const shown = computed(() => {
  const name = String(route.name ?? '')
  return ['bring', 'made'].includes(name) ? 'data' : name
})
const session = useSession()
const field = useCommandField()
const inView = useInView()
const looks = useLooks()
const notices = useNotices()
const cache = useQueryClient()
const router = useRouter()

async function signOut() {
  try {
    await unwrap(client.DELETE('/api/session'))
    await router.push({ name: 'sign-in' })
    cache.removeQueries({ predicate: (query) => query.queryKey[0] !== keys.session[0] })
    await cache.invalidateQueries({ queryKey: keys.session })
  } catch (error) {
    notices.complain(error)
  }
}
</script>

<template>
  <header class="head">
    <BrandMark />
    <span v-if="studyName" class="study" :title="studyName">{{ studyName }}</span>
    <nav v-if="studyId" class="screens" aria-label="Screens of the study">
      <router-link
        v-for="(words, name) in SCREENS"
        :key="name"
        :to="inView.placeOf(name, studyId)"
        class="screen"
        :class="{ on: shown === name }"
        active-class=""
        >{{ words }}</router-link
      >
    </nav>
    <span v-else class="fill" />
    <WhoIsHere
      v-if="studyId"
      :here="here ?? []"
      :to="{ name: 'people', params: { study: studyId } }"
    />
    <button class="find" @click="field.isOpen = true">
      <span>Find or do…</span><kbd>Ctrl K</kbd>
    </button>
    <button class="icon" aria-label="Light or dark" title="Light or dark" @click="looks.turn">
      <v-icon :icon="mdiThemeLightDark" size="18" />
    </button>
    <router-link
      :to="{ name: 'account' }"
      class="icon"
      :aria-label="`Account of ${session.data.value?.user}`"
      :title="`Account of ${session.data.value?.user}`"
    >
      <v-icon :icon="mdiAccountCircleOutline" size="18" />
    </router-link>
    <button
      class="icon"
      :aria-label="`Sign out ${session.data.value?.user}`"
      :title="`Sign out ${session.data.value?.user}`"
      @click="signOut"
    >
      <v-icon :icon="mdiLogoutVariant" size="18" />
    </button>
  </header>
</template>

<style scoped>
.head {
  height: 52px;
  display: flex;
  align-items: center;
  gap: 22px;
  padding: 0 20px;
  border-bottom: 1px solid var(--hairline);
  background: var(--paper);
  position: sticky;
  top: 0;
  z-index: 5;
}
.study {
  color: var(--quiet);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  min-width: 60px;
  flex: 0 1 290px;
}
.screens {
  display: flex;
  gap: 24px;
  margin: 0 auto;
}
.screen {
  color: var(--quiet);
  text-decoration: none;
  padding: 15px 0 13px;
  border-bottom: 2px solid transparent;
}
.screen.on {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--pine);
}
.fill {
  flex: 1;
}
.find {
  border: 1px solid var(--hairline);
  border-radius: 16px;
  padding: 4px 12px;
  color: var(--quiet);
  background: var(--sheet);
  width: 170px;
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.icon {
  color: var(--quiet);
  display: flex;
  padding: 4px;
}
.icon + .icon {
  margin-left: -12px;
}
@media (max-width: 860px) {
  .find {
    width: auto;
    white-space: nowrap;
  }
  .find kbd {
    display: none;
  }
}
@media (max-width: 720px) {
  .head {
    gap: 12px;
    padding: 0 12px;
    flex-wrap: wrap;
    height: auto;
  }
  .study {
    display: none;
  }
  .screens {
    gap: 16px;
  }
}
</style>
