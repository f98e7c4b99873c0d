<script setup lang="ts">
/** Where an invitation leads: into the study, with one's account or a new one. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, Problem, unwrap } from '@/api/client'
import { keys, useSession } from '@/api/queries'
import BrandMark from '@/parts/BrandMark.vue'
import ErrorNote from '@/parts/ErrorNote.vue'

const route = useRoute()
const router = useRouter()
const cache = useQueryClient()
const session = useSession()
const secret = computed(() => String(route.params.secret))
const invitation = useQuery({
  queryKey: computed(() => ['invitation', secret.value]),
  queryFn: () =>
    unwrap(client.GET('/api/invitations/{secret}', { params: { path: { secret: secret.value } } })),
  retry: false,
  staleTime: Infinity,
})
const user = computed(() => session.data.value?.user)
const name = ref('')
const password = ref('')
const error = ref<Problem>()
const beside = (field: string) =>
  error.value && (error.value.where('field') ?? 'password') === field ? error.value : undefined

async function join() {
  error.value = undefined
  try {
    const joined = await unwrap(
      client.POST('/api/invitations/{secret}', {
        params: { path: { secret: secret.value } },
        body: user.value ? {} : { username: name.value, password: password.value },
      }),
    )
    cache.setQueryData(keys.session, joined.session)
    await cache.invalidateQueries({ queryKey: keys.studies })
    await router.push({ name: 'ask', params: { study: joined.study } })
  } catch (reason) {
    error.value = reason as Problem
  }
}
</script>

<template>
  <main class="join">
    <BrandMark />
    <template v-if="invitation.data.value">
      <h1 class="serif">
        {{ invitation.data.value.by }} invites you to “{{ invitation.data.value.study }}”
      </h1>
      <p>
        You would be {{ invitation.data.value.role === 'reader' ? 'a' : 'an' }}
        {{ invitation.data.value.role }} there.
      </p>
      <form @submit.prevent="join">
        <template v-if="!user">
          <p class="quiet">
            Make an account, or
            <router-link :to="{ name: 'sign-in', query: { to: route.fullPath } }" class="act"
              >sign in with yours</router-link
            >
            first.
          </p>
          <v-text-field v-model="name" label="Name" autocomplete="username" maxlength="150" />
          <ErrorNote :error="beside('username')" />
          <v-text-field
            v-model="password"
            label="Password"
            type="password"
            autocomplete="new-password"
          />
        </template>
        <ErrorNote :error="beside('password')" />
        <v-btn type="submit" color="primary">{{ user ? `Join as ${user}` : 'Join' }}</v-btn>
      </form>
    </template>
    <template v-else-if="invitation.isError.value">
      <h1 class="serif">This invitation holds no more</h1>
      <p>
        It was used, taken back, or is too old. Ask whoever sent it for another.
        <router-link :to="{ name: 'studies' }" class="act">To your studies</router-link>
      </p>
    </template>
  </main>
</template>

<style scoped>
.join {
  max-width: 420px;
  margin: 0 auto;
  padding: 14vh 20px 40px;
  display: grid;
  gap: 16px;
}
h1 {
  font-size: 1.5rem;
  font-weight: 500;
  line-height: 1.3;
}
form {
  display: grid;
  gap: 12px;
}
</style>
