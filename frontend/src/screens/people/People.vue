<script setup lang="ts">
/** Who is in a study, in which role; inviting, leaving, handing over; and who did what. */
import { computed } from 'vue'
import { useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { useLog, usePeople, type Member } from '@/api/people'
import { keys, useRefresh } from '@/api/queries'
import type { Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useNotices } from '@/notices'
import InviteForm from './InviteForm.vue'
import StudyLog from './StudyLog.vue'

const props = defineProps<{ study: Study }>()
const notices = useNotices()
const refresh = useRefresh()
const router = useRouter()

const people = usePeople(() => props.study.id)
const me = computed(() => people.data.value?.members.find((member) => member.is_you))
const isOwner = computed(() => me.value?.role === 'owner')
const log = useLog(() => props.study.id, isOwner)

const path = (member: Member) => ({
  path: { study_id: props.study.id, user_id: member.id },
})

async function read() {
  await refresh('study', props.study.id, 'people')
  await refresh(...keys.study(props.study.id))
}

async function change(member: Member, role: string) {
  const before = member.role
  const put = (to: string) =>
    unwrap(
      client.PATCH('/api/studies/{study_id}/people/{user_id}', {
        params: path(member),
        body: { role: to as Member['role'] },
      }),
    )
  try {
    await put(role)
    notices.say(`${member.user} is ${role} now.`, async () => {
      await put(before)
      await read()
    })
  } catch (error) {
    notices.complain(error)
  }
  await read()
}

async function takeOut(member: Member) {
  try {
    await unwrap(
      client.DELETE('/api/studies/{study_id}/people/{user_id}', { params: path(member) }),
    )
    if (member.is_you) {
      await router.push({ name: 'studies' })
      await refresh(...keys.studies)
      notices.say(`You left “${props.study.name}”. An owner can invite you again.`)
    } else {
      await read()
      notices.say(`${member.user} is not in this study any more. Invite them to undo that.`)
    }
  } catch (error) {
    notices.complain(error)
  }
}
</script>

<template>
  <main class="people">
    <section aria-labelledby="people-of">
      <h1 id="people-of" class="serif">People</h1>
      <ErrorNote v-if="people.isError.value" :error="people.error.value" />
      <ul v-else class="list">
        <li v-for="member in people.data.value?.members" :key="member.id">
          <span class="name serif"
            >{{ member.user }}<span v-if="member.is_you" class="quiet"> (you)</span></span
          >
          <select
            v-if="isOwner"
            :value="member.role"
            :aria-label="`Role of ${member.user}`"
            @change="change(member, ($event.target as HTMLSelectElement).value)"
          >
            <option v-for="(_, role) in people.data.value?.may" :key="role">{{ role }}</option>
          </select>
          <span v-else>{{ member.role }}</span>
          <button v-if="member.is_you" class="act" @click="takeOut(member)">Leave</button>
          <button
            v-else-if="isOwner"
            class="act"
            :aria-label="`Take ${member.user} out`"
            @click="takeOut(member)"
          >
            Take out
          </button>
          <span v-else />
        </li>
      </ul>
      <dl class="may quiet">
        <template v-for="(words, role) in people.data.value?.may" :key="role">
          <dt>{{ role }}</dt>
          <dd>{{ words }}</dd>
        </template>
      </dl>
      <InviteForm
        v-if="isOwner"
        :study="study.id"
        :open="people.data.value?.invitations ?? []"
        @changed="read"
      />
      <p v-else-if="me" class="quiet">Owners invite others and change roles.</p>
    </section>
    <StudyLog v-if="isOwner" :happenings="log.data.value ?? []" />
  </main>
</template>

<style scoped>
.people {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 48px;
  max-width: 1180px;
  width: 100%;
  margin: 0 auto;
  padding: 32px 24px;
}
h1 {
  font-size: 1.8rem;
  margin-bottom: 12px;
}
.list {
  list-style: none;
  padding: 0;
}
.list li {
  display: grid;
  grid-template-columns: 1fr 110px 76px;
  gap: 12px;
  align-items: center;
  padding: 10px 0;
  border-bottom: 1px solid var(--hairline);
}
.list .act {
  justify-self: end;
}
.name {
  font-size: 1.15rem;
  overflow-wrap: anywhere;
}
select {
  border: none;
  border-bottom: 1px solid var(--hairline);
  padding: 3px 4px;
  color: var(--ink);
  background: var(--sheet);
}
.may {
  display: grid;
  grid-template-columns: 70px 1fr;
  gap: 2px 10px;
  margin: 16px 0 28px;
}
.may dd {
  margin: 0;
}
@media (max-width: 860px) {
  .people {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
