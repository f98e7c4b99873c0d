<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { keys } from '@/api/queries'
import BrandMark from '@/parts/BrandMark.vue'
import ErrorNote from '@/parts/ErrorNote.vue'

const route = useRoute()
const cache = useQueryClient()
const username = ref('')
const password = ref('')
const error = ref<Error>()
const isBusy = ref(false)
const nameField = ref<{ focus: () => void }>()

// Not by the field's own autofocus: that takes the focus back when it comes into view late.
onMounted(() => nameField.value?.focus())

async function signIn() {
  isBusy.value = true
  error.value = undefined
  try {
    const body = { username: username.value, password: password.value }
    cache.setQueryData(keys.session, await unwrap(client.POST('/api/session', { body })))
  } catch (reason) {
    error.value = reason as Error
    password.value = ''
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <main class="sign-in">
    <BrandMark />
    <h1 class="serif">One question, answered with its own caution.</h1>
    <p v-if="route.query.link === 'used'" class="quiet">
      That link has been used: it signs in once. Start Hobrix again for a new one.
    </p>
    <form @submit.prevent="signIn">
      <v-text-field
        ref="nameField"
        v-model="username"
        label="Name"
        autocomplete="username"
        required
      />
      <v-text-field
        v-model="password"
        label="Password"
        type="password"
        autocomplete="current-password"
        required
      />
      <ErrorNote :error="error" />
      <v-btn type="submit" color="primary" :loading="isBusy">Sign in</v-btn>
    </form>
  </main>
</template>

<style scoped>
.sign-in {
  max-width: 360px;
  margin: 0 auto;
  padding: 18vh 20px 40px;
  display: grid;
  gap: 18px;
}
h1 {
  font-size: 1.5rem;
  font-weight: 500;
  line-height: 1.3;
}
form {
  display: grid;
  gap: 14px;
}
</style>
