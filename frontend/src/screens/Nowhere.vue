<template>
  <main class="nowhere">
    <h1 class="serif">There is nothing at this address.</h1>
    <p class="quiet">
      It may have been deleted, or it belongs to a study that is not shared with you.
      <router-link :to="{ name: 'studies' }">Your studies</router-link>
    </p>
  </main>
</template>

<style scoped>
.nowhere {
  padding: 18vh 24px 0;
  max-width: 560px;
  margin: 0 auto;
  display: grid;
  gap: 12px;
}
</style>
