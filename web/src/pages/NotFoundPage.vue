<script setup lang="ts">
import ExhibitState from '../report/ExhibitState.vue';
</script>

<template>
  <ExhibitState kind="empty" title="There is no page at this address" message="It may have been typed or copied incompletely.">
    <v-btn to="/reports">Open the list of reports</v-btn>
  </ExhibitState>
</template>
