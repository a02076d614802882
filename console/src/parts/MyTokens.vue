<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { ref } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Select from "primevue/select";
import { api, data } from "@/api/client";
import { day, says } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import { session } from "@/session";
import { confirmed } from "@/use/confirmed";

/** One's tokens for programs: what each may do, until when, when it was used; made and revoked. */
const emit = defineEmits<{ said: [words: string] }>();
const cache = useQueryClient();
const {
  data: tokens,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["tokens"],
  queryFn: () => data(api.GET("/api/v1/tokens")),
});
const MAY = [
  { label: "Read", value: "read" },
  { label: "Read and write", value: "write" },
  { label: "Ask the gate of one site", value: "gate" },
] as const;
const name = ref("");
const may = ref<"read" | "write" | "gate">("read");
const days = ref("90");
const ends = ref(false);
const site = ref("all");
const sites = [
  { label: "Every site of mine", value: "all" },
  ...Object.keys(session.me?.sites ?? {}).map((slug) => ({ label: slug, value: slug })),
];

const settled = () => cache.invalidateQueries({ queryKey: ["tokens"] });
const make = useMutation({
  mutationFn: () =>
    confirmed(() =>
      data(
        api.POST("/api/v1/tokens", {
          body: {
            name: name.value,
            days: Number(days.value),
            scopes: may.value === "write" ? ["read", "write"] : [may.value],
            sites: site.value === "all" ? null : [site.value],
            ends_with_password: ends.value,
          },
        }),
      ),
    ),
  onSuccess: async (made) => {
    name.value = "";
    await settled();
    emit("said", `The secret of '${made.name}', shown this once: ${made.secret}`);
  },
});
const revoke = useMutation({
  mutationFn: (token: { id: number; name: string }) =>
    api.DELETE("/api/v1/tokens/{token_id}", { params: { path: { token_id: token.id } } }),
  onSuccess: async (_, token) => {
    await settled();
    emit("said", `'${token.name}' works no more.`);
  },
});
</script>

<template>
  <section class="card stack tight" aria-labelledby="m-tokens">
    <h2 id="m-tokens">Tokens for programs</h2>
    <Message v-if="make.error.value ?? revoke.error.value" severity="error" role="alert">{{
      says(make.error.value ?? revoke.error.value)
    }}</Message>
    <AsyncState :loading="isPending" :error="error" what="your tokens" @again="refetch()">
      <p v-if="!tokens?.items.length" class="soft">None. A program signs in with one.</p>
      <ul v-else class="plain-list stack tight">
        <li v-for="one in tokens.items" :key="one.id" class="row spread">
          <span>
            <strong>{{ one.name }}</strong><span class="soft"
              >: {{ one.scopes.join(", ")
              }}{{ one.sites ? ` of ${one.sites.join(", ") || "no site any more"}` : "" }}, until
              {{ day(one.expires_at) }},
              {{ one.last_used_at ? `used ${day(one.last_used_at)}` : "never used"
              }}{{ one.ends_with_password ? ", ends with your password" : "" }}</span
            >
          </span>
          <Button
            label="Revoke"
            size="small"
            variant="outlined"
            :aria-label="`Revoke ${one.name}`"
            @click="revoke.mutate(one)"
          />
        </li>
      </ul>
    </AsyncState>
    <form class="fields" aria-label="Make a token" @submit.prevent="make.mutate()">
      <div class="field">
        <label for="t-name">What for</label
        ><InputText id="t-name" v-model="name" maxlength="200" required />
      </div>
      <div class="field">
        <label id="t-may">It may</label
        ><Select
          v-model="may"
          :options="[...MAY]"
          option-label="label"
          option-value="value"
          aria-labelledby="t-may"
        />
      </div>
      <div class="field">
        <label id="t-site">For</label
        ><Select
          v-model="site"
          :options="sites"
          option-label="label"
          option-value="value"
          aria-labelledby="t-site"
        />
      </div>
      <div class="field">
        <label for="t-days">Days until it ends</label
        ><InputText id="t-days" v-model="days" type="number" required />
      </div>
      <label class="choice"
        ><input v-model="ends" type="checkbox" /> It ends when I change my password</label
      >
      <div><Button type="submit" label="Make a token" :loading="make.isPending.value" /></div>
    </form>
  </section>
</template>
