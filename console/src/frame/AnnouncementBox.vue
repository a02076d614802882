<script setup lang="ts">
import { close, said, undoLast } from "@/use/announcements";
import { useKeys } from "@/use/keys";

/** What was just done, said aloud, each with its way back. */
useKeys([{ keys: "u", says: "take back what was just done", act: () => undoLast() }]);
</script>

<template>
  <div class="announcement-box" aria-live="polite">
    <div v-for="one in said" :key="one.id" class="one">
      <span>{{ one.says }}</span>
      <button
        v-if="one.undo"
        type="button"
        class="bare"
        :aria-label="`Undo: ${one.says}`"
        @click="undoLast(one.id)"
      >
        Undo
      </button>
      <button type="button" class="bare" :aria-label="`Close: ${one.says}`" @click="close(one.id)">
        Close
      </button>
    </div>
  </div>
</template>

<style scoped>
.announcement-box {
  position: fixed;
  right: 16px;
  bottom: 16px;
  z-index: 20;
  display: grid;
  gap: 8px;
  max-width: min(460px, calc(100vw - 32px));
}
.one {
  display: flex;
  gap: 14px;
  align-items: baseline;
  padding: 10px 16px;
  border-radius: 10px;
  background: var(--paper);
  border: 2px solid var(--plum);
  box-shadow: 0 6px 24px rgb(20 10 25 / 25%);
}
.one span {
  flex: 1;
  overflow-wrap: anywhere;
}
</style>
