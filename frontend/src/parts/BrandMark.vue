<template>
  <router-link :to="{ name: 'studies' }" class="brand">
    <svg width="20" height="20" viewBox="0 0 20 20" aria-hidden="true">
      <rect x="1" y="1" width="8" height="11" rx="1.5" class="pine" />
      <rect x="1" y="14" width="8" height="5" rx="1.5" class="less" />
      <rect x="11" y="1" width="8" height="5" rx="1.5" class="more" />
      <rect x="11" y="8" width="8" height="11" rx="1.5" class="pine" /></svg
    >Hobrix
  </router-link>
</template>

<style scoped>
.brand {
  font: 600 1.45rem var(--serif);
  letter-spacing: -0.2px;
  display: flex;
  align-items: center;
  gap: 8px;
  text-decoration: none;
}
.pine {
  fill: var(--pine);
}
.less {
  fill: var(--less-2);
}
.more {
  fill: var(--more-2);
}
</style>
