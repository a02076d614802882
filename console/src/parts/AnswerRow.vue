<script setup lang="ts">
/** A row that tells the gate's answer: the answer, what it is of, and who has to do with it. */
</script>

<template>
  <div class="one">
    <div class="holder"><slot name="answer" /></div>
    <div class="what"><slot /></div>
    <div class="who"><slot name="who" /></div>
  </div>
</template>

<style scoped>
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  padding: 9px 18px;
  align-items: flex-start;
  overflow-wrap: anywhere;
}
.holder {
  flex: 0 0 9.6em;
}
.what {
  flex: 1 1 18em;
  min-width: 0;
}
.who {
  flex: 0 1 15em;
  min-width: 0;
}
</style>
