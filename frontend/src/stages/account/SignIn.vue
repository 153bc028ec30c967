<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { client, ok, Problem } from '@/api/client'
import { sessionQuery } from '@/api/queries'

const name = ref('')
const password = ref('')
const queries = useQueryClient()
const { data: session } = useQuery(sessionQuery())
const signIn = useMutation({
  mutationFn: () => ok(client.POST('/api/session', { body: { name: name.value, password: password.value } })),
  // Where many sign in at once, as at the start of a lesson, some are told to come again: that is done for them.
  retry: (count, error) => error instanceof Problem && error.status === 503 && count < 12,
  retryDelay: 700,
  onSuccess: (answer) => queries.setQueryData(['session'], answer),
})

function use(account: { name: string; password: string }): void {
  name.value = account.name
  password.value = account.password
  signIn.mutate()
}
</script>

<template>
  <div class="page">
    <form class="sheet" @submit.prevent="signIn.mutate()">
      <h1>Rogatum</h1>
      <p class="soft">Questions in, questions out, nothing lost on the way.</p>
      <label for="name">Name</label>
      <ElInput id="name" v-model="name" name="name" autocomplete="username" autofocus />
      <label for="password">Password</label>
      <ElInput id="password" v-model="password" name="password" type="password" autocomplete="current-password" />
      <p v-if="signIn.error.value instanceof Problem" class="problem" role="alert">{{ signIn.error.value.message }}</p>
      <ElButton type="primary" native-type="submit" :loading="signIn.isPending.value">Sign in</ElButton>
      <section v-if="session?.demo_accounts.length" class="demo">
        <h3>Demo accounts</h3>
        <p v-for="account in session.demo_accounts" :key="account.name">
          <button type="button" class="link-button" @click="use(account)">Sign in as {{ account.name }}</button>
          <span class="faint"> · {{ account.about }} · password {{ account.password }}</span>
        </p>
      </section>
    </form>
  </div>
</template>

<style scoped>
.page {
  min-height: 100%;
  display: grid;
  place-items: center;
  padding: 32px;
}

.sheet {
  width: 400px;
  display: grid;
  gap: 6px;
}

h1 {
  font-size: 40px;
}

label {
  font-weight: 500;
  margin-top: 8px;
}

.el-button {
  justify-self: start;
  margin-top: 14px;
}

.problem {
  color: var(--rog-signal);
  margin: 8px 0 0;
}

.demo {
  margin-top: 28px;
  padding-top: 14px;
  border-top: 1px solid var(--rog-rule-strong);
}

.demo p {
  margin: 6px 0;
}
</style>
