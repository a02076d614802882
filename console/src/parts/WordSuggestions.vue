<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import Button from "primevue/button";
import { api, data } from "@/api/client";
import { says } from "@/format";

/** What may have been meant by a word, asked for only when one wants to know: it takes a second or two. */
const props = defineProps<{ word: string; language: string; choosable?: boolean }>();
const emit = defineEmits<{ choose: [meant: string] }>();
const wanted = ref(false);
const {
  data: found,
  error,
  isFetching,
} = useQuery({
  queryKey: ["suggestions", computed(() => props.word), computed(() => props.language)],
  queryFn: () =>
    data(
      api.GET("/api/v1/suggestions", {
        params: { query: { word: props.word, language: props.language } },
      }),
    ),
  enabled: wanted,
  staleTime: Infinity,
  retry: false,
});
const said = computed(() => {
  if (error.value) return says(error.value);
  if (isFetching.value) return "Looking in the dictionary…";
  if (!found.value) return "";
  return found.value.suggestions.length
    ? `Perhaps: ${found.value.suggestions.join(", ")}`
    : "Nothing like it is in the dictionary.";
});
</script>

<template>
  <div class="row tight">
    <Button
      v-if="!found"
      label="What is meant?"
      size="small"
      variant="outlined"
      :disabled="isFetching"
      :aria-label="`What is meant? ${word}`"
      @click="wanted = true"
    />
    <span role="status" :class="{ 'only-aloud': choosable && found?.suggestions.length }">{{
      said
    }}</span>
    <template v-if="choosable"
      ><Button
        v-for="meant in found?.suggestions"
        :key="meant"
        :label="meant"
        size="small"
        variant="outlined"
        :aria-label="`${meant}: propose to write that`"
        @click="emit('choose', meant)"
    /></template>
  </div>
</template>
