<script setup lang="ts">
/** One's own account: where one is signed in, and another password. */
import { ref } from 'vue'

import { client, Problem, unwrap } from '@/api/client'
import { useSignIns } from '@/api/people'
import { keys, useRefresh, useSession } from '@/api/queries'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useNotices } from '@/notices'
import PageHead from '../PageHead.vue'

const session = useSession()
const signIns = useSignIns()
const refresh = useRefresh()
const notices = useNotices()
const old = ref('')
const next = ref('')
const error = ref<Problem>()
const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

async function end(which: number) {
  try {
    await unwrap(client.DELETE('/api/account/sessions/{which}', { params: { path: { which } } }))
    notices.say('Signed out there.')
  } catch (reason) {
    notices.complain(reason)
  }
  await refresh(...keys.session, 'sign-ins')
}

async function change() {
  error.value = undefined
  try {
    await unwrap(
      client.POST('/api/account/password', { body: { old: old.value, new: next.value } }),
    )
    old.value = next.value = ''
    notices.say('Your password was changed. Everywhere else you are signed out.')
    await refresh(...keys.session, 'sign-ins')
  } catch (reason) {
    if (reason instanceof Problem) error.value = reason
    else notices.complain(reason)
  }
}
</script>

<template>
  <PageHead />
  <main class="account">
    <h1 class="serif">{{ session.data.value?.user }}</h1>
    <p v-if="session.data.value?.is_operator">
      <router-link :to="{ name: 'operator' }" class="act">What this installation holds</router-link>
    </p>
    <section aria-labelledby="where">
      <h2 id="where" class="overline">Where you are signed in</h2>
      <ul class="list">
        <li v-for="each in signIns.data.value" :key="each.id">
          <span
            >{{ each.browser }}<span v-if="each.is_this" class="quiet"> (this one)</span
            ><span class="quiet"> · last used {{ when.format(new Date(each.seen_at)) }}</span></span
          >
          <button v-if="!each.is_this" class="act" @click="end(each.id)">Sign out there</button>
        </li>
      </ul>
    </section>
    <section aria-labelledby="password">
      <h2 id="password" class="overline">Another password</h2>
      <form @submit.prevent="change">
        <v-text-field
          v-model="old"
          label="Password now"
          type="password"
          autocomplete="current-password"
        />
        <ErrorNote :error="error?.where('field') === 'old' ? error : undefined" />
        <v-text-field
          v-model="next"
          label="New password"
          type="password"
          autocomplete="new-password"
        />
        <ErrorNote :error="error && error.where('field') !== 'old' ? error : undefined" />
        <v-btn type="submit" color="primary" :disabled="!next">Change it</v-btn>
      </form>
    </section>
  </main>
</template>

<style scoped>
.account {
  max-width: 620px;
  width: 100%;
  margin: 0 auto;
  padding: 36px 24px;
  display: grid;
  gap: 24px;
}
h1 {
  font-size: 1.8rem;
}
.list {
  list-style: none;
  padding: 0;
}
.list li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 8px 0;
  border-bottom: 1px solid var(--hairline);
}
form {
  display: grid;
  gap: 12px;
  max-width: 360px;
  margin-top: 8px;
}
</style>
