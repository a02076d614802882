<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Textarea from "primevue/textarea";
import { api, data } from "@/api/client";
import { count, says } from "@/format";
import ChoiceField from "@/parts/ChoiceField.vue";
import GateParts, { type PartRule } from "@/parts/GateParts.vue";
import { session } from "@/session";
import { tell } from "@/use/told";

/** The rules of the gate, tried on what was asked in the last days before they are saved. */
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const path = computed(() => ({ slug: props.site }));
const { data: shown } = useQuery({ queryKey: ["site", path], queryFn: () => data(api.GET("/api/v1/sites/{slug}", { params: { path: path.value } })) });
type Rules = { holds?: string; counts?: string; from?: string; "old-from"?: string; doubtful?: string[]; "overruled-by"?: string[]; "valid-minutes"?: number; frame?: string; slot?: string; parts?: PartRule[] };
const rules = ref<Rules>({});
const seen = ref("");
watch(shown, (now) => {
  if (!now || seen.value === now.tag) return;
  seen.value = now.tag;
  rules.value = { ...((now.policy.gate ?? {}) as Rules) };
}, { immediate: true });
const set = (name: keyof Rules, value: unknown) => { rules.value = { ...rules.value, [name]: value === "" || value == null ? undefined : value }; };
const given = computed(() => JSON.parse(JSON.stringify(rules.value)) as Record<string, never>);
const changed = computed(() => JSON.stringify(given.value) !== JSON.stringify(shown.value?.policy.gate ?? {}));
const HOLDS = ["barrier", "obstacle", "friction", "none"].map((value) => ({ label: value, value }));
const COUNTS = [{ label: "Only what the change brings", value: "change" }, { label: "What was there before too", value: "everything" }];
const ROLES = ["manager", "editor", "developer"];
const overrule = (role: string, may: boolean) => set("overruled-by", ROLES.filter((one) => (one === role ? may : (rules.value["overruled-by"] ?? ["manager"]).includes(one))));
const trial = useMutation({ mutationFn: () => data(api.POST("/api/v1/sites/{slug}/gate/trial", { params: { path: path.value }, body: { gate: given.value, days: 30 } })) });
const save = useMutation({
  mutationFn: () => data(api.PATCH("/api/v1/sites/{slug}", { params: { path: path.value, header: { "if-match": seen.value } }, body: { policy: { ...shown.value!.policy, gate: given.value } as unknown as Record<string, never> } })),
  onSuccess: (after) => { cache.setQueryData(["site", path.value], after); seen.value = after.tag; trial.reset(); tell("The rules of the gate are saved; they count from the next question on."); },
});
const verdict = computed(() => (trial.data.value ? `With these rules, of the last ${trial.data.value.days} days' ${count(trial.data.value.publications, "publication")} ${trial.data.value.held_after} would have been held (${trial.data.value.held_before} were).` : ""));
const lines = (text: string) => text.split("\n").map((one) => one.trim()).filter(Boolean);
</script>

<template>
  <form v-if="shown" class="card stack tight" aria-labelledby="rules-title" @submit.prevent="save.mutate()">
    <h2 id="rules-title">Rules of the gate</h2>
    <div class="fields">
      <ChoiceField :model-value="rules.holds" label="Holds from" :options="HOLDS" all="as a page is ready" @update:model-value="(value) => set('holds', value)" />
      <ChoiceField :model-value="rules.counts" label="What counts" :options="COUNTS" all="Only what the change brings" @update:model-value="(value) => set('counts', value)" />
      <div class="field"><label for="gr-from">Holds from this day on</label><InputText id="gr-from" type="date" :model-value="rules.from ?? ''" @update:model-value="(value) => set('from', value)" /></div>
      <div class="field"><label for="gr-old">What was there before, from</label><InputText id="gr-old" type="date" :model-value="rules['old-from'] ?? ''" @update:model-value="(value) => set('old-from', value)" /></div>
      <div class="field"><label for="gr-minutes">Good for, in minutes</label><InputText id="gr-minutes" type="number" min="1" placeholder="60" :model-value="rules['valid-minutes'] == null ? '' : String(rules['valid-minutes'])" @update:model-value="(value) => set('valid-minutes', value ? Number(value) : null)" /></div>
      <div class="field"><label for="gr-frame">Page frame of fragments</label><InputText id="gr-frame" :model-value="rules.frame ?? ''" placeholder="/news/" @update:model-value="(value) => set('frame', value)" /></div>
      <div class="field"><label for="gr-slot">Its slot (CSS)</label><InputText id="gr-slot" :model-value="rules.slot ?? ''" placeholder="article" @update:model-value="(value) => set('slot', value)" /></div>
      <fieldset class="boxed row"><legend>Who may overrule, with a reason</legend><label v-for="role in ROLES" :key="role"><input type="checkbox" :checked="(rules['overruled-by'] ?? ['manager']).includes(role)" @change="overrule(role, ($event.target as HTMLInputElement).checked)"> {{ role }}s</label></fieldset>
      <div class="field grow"><label for="gr-doubtful">Doubtful findings of these checks hold too, one in a line</label><Textarea id="gr-doubtful" rows="2" :model-value="(rules.doubtful ?? []).join('\n')" @change="(event: Event) => set('doubtful', lines((event.target as HTMLTextAreaElement).value).length ? lines((event.target as HTMLTextAreaElement).value) : null)" /></div>
    </div>
    <GateParts :model-value="rules.parts ?? []" :holds="HOLDS" :counts="COUNTS" @update:model-value="(parts) => set('parts', parts.length ? parts : null)" />
    <p v-if="verdict" role="status"><strong>{{ verdict }}</strong></p>
    <ul v-if="trial.data.value?.newly_held.length"><li v-for="one in trial.data.value.newly_held.slice(0, 10)" :key="one.id">Would be held: <RouterLink :to="{ name: 'clearance', params: { site, clearance: one.id } }" :aria-label="`${one.path}, would be held, clearance ${one.id}`">{{ one.path }}</RouterLink></li></ul>
    <ul v-if="trial.data.value?.newly_clear.length"><li v-for="one in trial.data.value.newly_clear.slice(0, 10)" :key="one.id">Would be clear: <RouterLink :to="{ name: 'clearance', params: { site, clearance: one.id } }" :aria-label="`${one.path}, would be clear, clearance ${one.id}`">{{ one.path }}</RouterLink></li></ul>
    <Message v-if="trial.error.value ?? save.error.value" severity="error" role="alert">{{ says(trial.error.value ?? save.error.value) }}</Message>
    <div v-if="session.me?.role === 'manager'" class="row"><Button label="Try them on the last 30 days" variant="outlined" :loading="trial.isPending.value" @click="trial.mutate()" /><Button type="submit" label="Save the rules" :disabled="!changed" :loading="save.isPending.value" /></div>
  </form>
</template>
