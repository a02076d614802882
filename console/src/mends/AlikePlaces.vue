<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, data, type FindingInFull } from "@/api/client";
import { count } from "@/format";

/** The same mend at every place with the same cause, but for those that are left out. */
const props = defineProps<{ finding: FindingInFull }>();
const everywhere = defineModel<boolean>("everywhere", { required: true });
const but = defineModel<number[]>("but", { required: true });
const shown = ref(false);
const { data: places } = useQuery({
  queryKey: ["alike", computed(() => props.finding.id)],
  queryFn: () =>
    data(
      api.GET("/api/v1/findings/{finding_id}/alike", {
        params: { path: { finding_id: props.finding.id } },
      }),
    ),
});
const others = computed(() =>
  (places.value?.items ?? []).filter((one) => one.id !== props.finding.id),
);
const total = computed(() => others.value.length + 1);
const pages = computed(() => new Set((places.value?.items ?? []).map((one) => one.path)).size);
const wanted = computed(() => total.value - but.value.length);
</script>

<template>
  <div v-if="others.length" class="stack tight">
    <label class="row"
      ><input v-model="everywhere" type="checkbox" /> The same for all
      {{ count(total, "place") }} on {{ count(pages, "page") }}</label
    >
    <template v-if="everywhere && places">
      <p class="soft small">
        {{ count(wanted, "correction") }} will be drafted, each read on its own page.
        <button type="button" class="bare" :aria-expanded="shown" @click="shown = !shown">
          {{ shown ? "Hide the places" : "Leave some out" }}
        </button>
      </p>
      <ul v-if="shown" class="plain-list places">
        <li v-for="one in others" :key="one.id">
          <label class="row"
            ><input
              type="checkbox"
              :checked="!but.includes(one.id)"
              @change="
                but = but.includes(one.id) ? but.filter((id) => id !== one.id) : [...but, one.id]
              "
            />
            {{ one.path }}</label
          >
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.places {
  max-height: 14em;
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 8px;
  padding: 8px 12px;
}
</style>
