<script setup lang="ts">
import { guide } from '../help/guide.ts';

/** The guide, with its contents beside it. */
const { html, chapters } = guide();
</script>

<template>
  <div class="page">
    <h1>Help</h1>
    <div class="columns">
      <nav class="contents" aria-label="Contents">
        <ul>
          <li v-for="{ id, title, level } in chapters" :key="id" :class="`level-${level}`">
            <a :href="`#${id}`">{{ title }}</a>
          </li>
        </ul>
      </nav>
      <!-- The guide is a part of the application: nobody else writes in it. -->
      <!-- eslint-disable-next-line vue/no-v-html -->
      <article class="guide" v-html="html" />
    </div>
  </div>
</template>

<style scoped>
.page {
  padding: 22px 26px 80px 30px;
}
.columns {
  display: grid;
  grid-template-columns: 230px minmax(0, 780px);
  gap: 44px;
  margin-top: 18px;
}
.contents {
  position: sticky;
  top: 18px;
  align-self: start;
  max-height: calc(100vh - 36px);
  overflow-y: auto;
  border-top: 2px solid var(--ink);
  padding-top: 8px;
}
.contents ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
.contents a {
  display: block;
  padding: 4px 0;
  min-height: 26px;
  color: var(--ink-2);
  text-decoration: none;
}
.contents a:hover {
  color: var(--sea);
  text-decoration: underline;
}
.contents .level-2 a {
  font-weight: 600;
  color: var(--ink);
  margin-top: 8px;
}
.contents .level-3 a {
  padding-left: 12px;
}
.guide :deep(h2) {
  font-family: var(--serif);
  font-size: 25px;
  border-top: 2px solid var(--ink);
  padding-top: 10px;
  margin: 38px 0 10px;
}
.guide :deep(h3) {
  font-family: var(--serif);
  font-size: 18px;
  margin: 26px 0 6px;
}
.guide :deep(p),
.guide :deep(li) {
  line-height: 1.6;
}
.guide :deep(p) {
  margin: 8px 0;
}
.guide :deep(ul) {
  padding-left: 20px;
  margin: 8px 0;
}
.guide :deep(li) {
  margin: 4px 0;
}
.guide :deep(img) {
  width: 100%;
  border: 1px solid var(--rule);
  border-radius: 8px;
  margin: 10px 0;
}
.guide :deep(code) {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 4px;
  padding: 0 4px;
}
.guide :deep(a) {
  color: var(--sea);
}
.guide :deep(h2:focus),
.guide :deep(h3:focus) {
  outline: none;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
    gap: 18px;
  }
  .contents {
    position: static;
    max-height: none;
  }
  .contents .level-3 {
    display: none;
  }
}
</style>
