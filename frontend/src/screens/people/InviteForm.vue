<script setup lang="ts">
/** A link that lets one person in, once; it is shown here and never again. */
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { Schemas } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useCopied } from '@/parts/useCopied'
import { useNotices } from '@/notices'

const props = defineProps<{ study: string; open: Schemas['InvitationOut'][] }>()
const emit = defineEmits<{ changed: [] }>()
const notices = useNotices()

const role = ref<Schemas['InvitationIn']['role']>('analyst')
const link = ref('')
const error = ref<Error>()
const { wasCopied, copy } = useCopied()
const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long' })

async function invite() {
  error.value = undefined
  try {
    const made = await unwrap(
      client.POST('/api/studies/{study_id}/people/invitations', {
        params: { path: { study_id: props.study } },
        body: { role: role.value, days: 7 },
      }),
    )
    link.value = `${window.location.origin}/join/${made.secret}`
    emit('changed')
  } catch (reason) {
    error.value = reason as Error
  }
}

async function takeBack(id: string) {
  try {
    await unwrap(
      client.DELETE('/api/studies/{study_id}/people/invitations/{invitation_id}', {
        params: { path: { study_id: props.study, invitation_id: id } },
      }),
    )
    link.value = ''
    notices.say('The invitation was taken back; its link leads nowhere now.')
    emit('changed')
  } catch (reason) {
    notices.complain(reason)
  }
}
</script>

<template>
  <h2 class="overline">Invite somebody</h2>
  <form class="invite" @submit.prevent="invite">
    <label
      >as
      <select v-model="role" aria-label="Role of whom you invite">
        <option>reader</option>
        <option>analyst</option>
        <option>owner</option>
      </select></label
    >
    <v-btn type="submit" color="primary">Make a link</v-btn>
  </form>
  <ErrorNote :error="error" />
  <div v-if="link" class="link" role="status">
    <p>
      Give this link to one person. It works once, within seven days, and is not shown again.
      Whoever has no account makes one with it.
    </p>
    <p class="secret">
      <input
        :value="link"
        readonly
        aria-label="The link"
        @focus="($event.target as HTMLInputElement).select()"
      />
      <button class="act" @click="copy(link)">{{ wasCopied ? 'Copied' : 'Copy' }}</button>
    </p>
  </div>
  <ul v-if="open.length" class="open">
    <li v-for="each in open" :key="each.id">
      <span
        >A link for {{ each.role === 'reader' ? 'a' : 'an' }} {{ each.role }}, by
        {{ each.made_by }}, until {{ day.format(new Date(each.ends_at)) }}</span
      >
      <button class="act" @click="takeBack(each.id)">Take back</button>
    </li>
  </ul>
</template>

<style scoped>
.invite {
  display: flex;
  align-items: center;
  gap: 16px;
  margin: 8px 0 12px;
}
select {
  border: none;
  border-bottom: 1px solid var(--hairline);
  padding: 3px 4px;
  color: var(--ink);
  background: var(--sheet);
}
.link {
  background: var(--sheet);
  border: 1px solid var(--hairline);
  border-radius: 8px;
  padding: 12px 14px;
  margin: 12px 0;
}
.secret {
  display: flex;
  gap: 12px;
  margin-top: 8px;
}
.secret input {
  flex: 1;
  min-width: 0;
  color: var(--ink);
  border: none;
  border-bottom: 1px solid var(--hairline);
}
.open {
  list-style: none;
  padding: 0;
  margin-top: 12px;
}
.open li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 6px 0;
}
</style>
