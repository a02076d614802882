<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { ref } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data, type Fix } from "@/api/client";
import { day, inDays, says } from "@/format";
import { announce } from "@/use/announcements";
import { useDraft } from "@/use/drafts";

/** Waiving what a fix is about, with a reason and a last day. */
const props = defineProps<{ fix: Fix }>();
const emit = defineEmits<{ waived: [lastDay: string] }>();
const cache = useQueryClient();
const { words: reason, forget } = useDraft(`fix-waive:${props.fix.id}`);
const until = ref(inDays(90));
const waive = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/findings/{finding_id}/waiver", {
        params: { path: { finding_id: props.fix.finding_id! } },
        body: {
          scope: props.fix.place_key ? "place" : "cause",
          reason: reason.value,
          ends_on: until.value,
        },
      }),
    ),
  onSuccess: (waiver) => {
    forget();
    announce(`Fix ${props.fix.id} is waived until ${day(waiver.ends_on)}.`, () =>
      api
        .DELETE("/api/v1/sites/{slug}/waivers/{waiver_id}", {
          params: { path: { slug: props.fix.site, waiver_id: waiver.id } },
        })
        .then(() => cache.invalidateQueries()),
    );
    emit("waived", waiver.ends_on);
  },
});
</script>

<template>
  <form class="card stack tight" aria-labelledby="x-waive" @submit.prevent="waive.mutate()">
    <h2 id="x-waive">Waive it</h2>
    <p class="soft">
      It counts no more {{ fix.place_key ? "in this place" : "wherever it occurs" }} until the day
      that you say.
    </p>
    <div class="field">
      <label for="x-reason">Reason</label
      ><InputText id="x-reason" v-model="reason" required minlength="3" maxlength="4000" />
    </div>
    <div class="field">
      <label for="x-until">Last day</label
      ><InputText id="x-until" v-model="until" type="date" required />
    </div>
    <Message v-if="waive.error.value" severity="error" role="alert">{{
      says(waive.error.value)
    }}</Message>
    <div>
      <Button type="submit" label="Waive" variant="outlined" :loading="waive.isPending.value" />
    </div>
  </form>
</template>
