<script setup lang="ts">
import { computed } from "vue";

const props = defineProps<{ weight: string; outcome?: string }>();
const kind = computed(() => (props.outcome === "cantTell" ? "doubt" : props.weight));
const label = computed(() => (kind.value === "doubt" ? `look at · ${props.weight}` : props.weight));
</script>

<template>
  <span class="mark" :class="kind">{{ label }}</span>
</template>

<style scoped>
.mark {
  display: inline-block;
  padding: 1px 10px;
  border-radius: 10px;
  font-size: 13px;
  font-weight: 600;
  color: #fff;
  white-space: nowrap;
}
.barrier {
  background: var(--barrier);
}
.obstacle {
  background: var(--obstacle);
}
.friction {
  background: var(--friction);
}
.doubt {
  background: var(--doubt);
}
</style>
