<script setup lang="ts">
import ExhibitState from '../report/ExhibitState.vue';
</script>

<template>
  <ExhibitState kind="empty" title="There is no page at this address" message="It may have been typed or copied incompletely.">
    <RouterLink class="button" to="/reports">Open the list of reports</RouterLink>
  </ExhibitState>
</template>
