<script setup lang="ts">
import { computed } from "vue";
import type { Finding } from "@/api/client";

/** Why a finding does not count; nothing where it counts, or nobody has answered yet. */
const props = defineProps<{ standing: Finding["standing"] }>();
const WORDS: Partial<Record<Finding["standing"], string>> = {
  "judged fine": "judged fine",
  waived: "waived",
  "left out": "left out by the policy",
  mended: "mended since: a later reading no longer shows it",
};
const words = computed(() => WORDS[props.standing]);
</script>

<template>
  <span v-if="words" class="standing small">{{ words }}</span>
</template>

<style scoped>
.standing {
  font-weight: 600;
}
</style>
