<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, type Site } from "@/api/client";
import { says } from "@/format";
import { announce } from "@/use/announcements";

/** Leave the pages below a path out of what is counted, or count them again: the policy's patterns, changed where the pages are seen. */
const props = defineProps<{ site: Site; below: string }>();
const cache = useQueryClient();
const NAME = "leave-out-pages";
const policy = computed(() => props.site.policy as Record<string, unknown>);
const patterns = computed(
  () => (policy.value[NAME] ?? policy.value["leave_out_pages"] ?? []) as string[],
);
const pattern = computed(() => `${props.below}*`);
const isLeftOut = computed(() => patterns.value.includes(pattern.value));

const change = useMutation({
  mutationFn: async (wanted: string[]) => {
    const now = await data(
      api.GET("/api/v1/sites/{slug}", { params: { path: { slug: props.site.slug } } }),
    );
    const rest = { ...(now.policy as Record<string, unknown>) };
    delete rest["leave_out_pages"];
    return data(
      api.PATCH("/api/v1/sites/{slug}", {
        params: { path: { slug: props.site.slug }, header: { "if-match": now.tag } },
        body: { policy: { ...rest, [NAME]: wanted } },
      }),
    );
  },
  onSuccess: () => cache.invalidateQueries(),
});
async function turn() {
  const before = patterns.value;
  const leaves = !isLeftOut.value;
  const told = leaves ? "is not counted any more" : "is counted again";
  await change.mutateAsync(
    leaves ? [...before, pattern.value] : before.filter((one) => one !== pattern.value),
  );
  announce(`What is below ${props.below} ${told}.`, () => change.mutateAsync(before));
}
</script>

<template>
  <div>
    <Button
      variant="outlined"
      size="small"
      :label="
        isLeftOut
          ? `Count the pages below ${below} again`
          : `Leave the pages below ${below} out of what is counted`
      "
      :loading="change.isPending.value"
      @click="turn"
    />
    <Message v-if="change.error.value" severity="error" role="alert">{{
      says(change.error.value)
    }}</Message>
  </div>
</template>
