<script setup lang="ts">
import { useMutation } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import { says } from "@/format";
import BeforeAfter from "@/parts/BeforeAfter.vue";
import { made, useCorrections } from "@/use/corrections";
import { useKeys } from "@/use/keys";

/** What was drafted last, with how it will look, and the way back; it stays while the next finding is mended. */
const props = defineProps<{ site: string }>();
const { undo, redo } = useCorrections();
const own = computed(() => made.done.filter((one) => one.site === props.site));
const last = computed(() => own.value.at(-1));
const back = computed(() => made.undone.filter((one) => one.site === props.site).at(-1));
const going = useMutation({
  mutationFn: (where: "back" | "forth") => (where === "back" ? undo() : redo()),
});
useKeys([
  { keys: "u", says: "take the last draft back", act: () => going.mutate("back") },
  { keys: "r", says: "draft again what was taken back", act: () => going.mutate("forth") },
]);
</script>

<template>
  <section v-if="last || back" class="card strip" aria-labelledby="strip-title">
    <div class="row spread">
      <h2 id="strip-title" tabindex="-1">{{ last ? "Drafted" : "Taken back" }}</h2>
      <div class="row">
        <Button
          label="Undo"
          size="small"
          variant="outlined"
          :disabled="!last || going.isPending.value"
          @click="going.mutate('back')"
        />
        <Button
          label="Redo"
          size="small"
          variant="outlined"
          :disabled="!back || going.isPending.value"
          @click="going.mutate('forth')"
        />
        <RouterLink :to="{ name: 'corrections', params: { site } }">All that is drafted</RouterLink>
      </div>
    </div>
    <template v-if="last">
      <p>
        {{ last.says }} <span class="soft">{{ last.path }}</span>
        <span v-if="last.mends_too" class="soft"
          >, and {{ last.mends_too }} other
          {{ last.mends_too === 1 ? "finding goes" : "findings go" }} with it</span
        >
      </p>
      <BeforeAfter :key="last.id" :correction="last" :high="150" />
    </template>
    <p v-else-if="back">{{ back.says }}</p>
    <Message v-if="going.error.value" severity="error" role="alert">{{
      says(going.error.value)
    }}</Message>
  </section>
</template>

<style scoped>
.strip {
  border-left: 6px solid var(--good);
}
</style>
