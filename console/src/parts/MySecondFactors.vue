<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, ref, useTemplateRef } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { count, says, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import { findOut } from "@/session";
import { confirmed } from "@/use/confirmed";
import { hasPasskeys, makePasskey } from "@/use/passkeys";

/** What one has beside the password: an app for codes, passkeys, recovery codes. */
const emit = defineEmits<{ said: [words: string] }>();
const cache = useQueryClient();
const {
  data: factors,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["second-factor"],
  queryFn: () => data(api.GET("/api/v1/me/second-factor")),
});
const app = ref<{ secret: string; picture: string } | null>(null);
const code = ref("");
const name = ref("");
const codes = ref<string[]>([]);
const because = ref("");
const shownCodes = useTemplateRef("shown-codes");

async function settled(words: string, shown: string[] = []) {
  codes.value = shown;
  await Promise.all([cache.invalidateQueries({ queryKey: ["second-factor"] }), findOut()]);
  if (!shown.length) {
    emit("said", words);
    return;
  }
  because.value = words;
  await nextTick();
  shownCodes.value?.focus();
}
const begin = useMutation({
  mutationFn: () => confirmed(() => data(api.POST("/api/v1/me/second-factor/app"))),
  onSuccess: (made) => {
    app.value = made;
  },
});
const finish = useMutation({
  mutationFn: () =>
    confirmed(() => data(api.PUT("/api/v1/me/second-factor/app", { body: { code: code.value } }))),
  onSuccess: (made) => {
    app.value = null;
    code.value = "";
    return settled("Signing in asks for a code of your app from now on.", made.codes);
  },
});
const drop = useMutation({
  mutationFn: () => confirmed(() => api.DELETE("/api/v1/me/second-factor/app")),
  onSuccess: () => settled("Your app is taken away."),
});
const anew = useMutation({
  mutationFn: () => confirmed(() => data(api.POST("/api/v1/me/second-factor/recovery-codes"))),
  onSuccess: (made) => settled("The codes before are void.", made.codes),
});
const add = useMutation({
  mutationFn: () => confirmed(() => makePasskey(name.value)),
  onSuccess: (made) => {
    name.value = "";
    return settled("You can sign in with this passkey.", made);
  },
});
const remove = useMutation({
  mutationFn: (id: number) =>
    confirmed(() =>
      api.DELETE("/api/v1/me/passkeys/{passkey_id}", { params: { path: { passkey_id: id } } }),
    ),
  onSuccess: () => settled("The passkey is taken away."),
});
const has = computed(() => Boolean(factors.value?.app || factors.value?.passkeys.length));
const problem = computed(() =>
  [begin, finish, drop, anew, add, remove].map((one) => one.error.value).find(Boolean),
);
</script>

<template>
  <section class="card stack tight" aria-labelledby="m-factors">
    <h2 id="m-factors">Second factor</h2>
    <Message v-if="factors?.wanted && !has" severity="warn"
      >A site of yours asks for a second factor. Set one up, then everything else is there.</Message
    >
    <Message v-if="problem" severity="error" role="alert">{{ says(problem) }}</Message>
    <AsyncState :loading="isPending" :error="error" what="your second factors" @again="refetch()">
      <div v-if="codes.length" ref="shown-codes" tabindex="-1" class="stack tight">
        <p>{{ because }}</p>
        <p>
          <strong>Recovery codes.</strong> Each lets you in once, when nothing else is at hand. They
          are shown only now: print them, or keep them with your passwords.
        </p>
        <ul class="codes" aria-label="Recovery codes">
          <li v-for="one in codes" :key="one">
            <code>{{ one }}</code>
          </li>
        </ul>
      </div>
      <h3>An app that shows codes</h3>
      <div v-if="factors?.app" class="row spread">
        <span>Signing in asks for a code of your app.</span>
        <Button label="Take it away" variant="outlined" size="small" @click="drop.mutate()" />
      </div>
      <form v-else-if="app" class="stack tight" @submit.prevent="finish.mutate()">
        <p>Let the app read this picture, or type {{ app.secret }} into it.</p>
        <img
          :src="app.picture"
          alt="QR code with the secret for the app"
          width="205"
          height="205"
        />
        <div class="field">
          <label for="m-code">Code that the app shows</label
          ><InputText
            id="m-code"
            v-model="code"
            inputmode="numeric"
            autocomplete="one-time-code"
            required
          />
        </div>
        <div><Button type="submit" label="Switch it on" :loading="finish.isPending.value" /></div>
      </form>
      <div v-else>
        <Button
          label="Set up an app"
          variant="outlined"
          :loading="begin.isPending.value"
          @click="begin.mutate()"
        />
      </div>
      <h3>Passkeys</h3>
      <ul v-if="factors?.passkeys.length" class="plain-list stack tight">
        <li v-for="one in factors.passkeys" :key="one.id" class="row spread">
          <span>
            <strong>{{ one.name }}</strong><span class="soft"
              >, since {{ time(one.made_at) }},
              {{ one.last_used_at ? `used ${time(one.last_used_at)}` : "never used" }}</span
            >
          </span>
          <Button
            label="Take away"
            size="small"
            variant="outlined"
            :aria-label="`Take away ${one.name}`"
            @click="remove.mutate(one.id)"
          />
        </li>
      </ul>
      <p v-if="!hasPasskeys" class="soft">
        This browser, or the address of this service, has no passkeys.
      </p>
      <form v-else class="row" aria-label="Make a passkey" @submit.prevent="add.mutate()">
        <div class="field">
          <label for="m-passkey">What you call this device</label
          ><InputText id="m-passkey" v-model="name" maxlength="200" required />
        </div>
        <Button
          type="submit"
          label="Make a passkey"
          variant="outlined"
          :loading="add.isPending.value"
        />
      </form>
      <div v-if="has" class="row spread">
        <span>{{ count(factors?.recovery_codes ?? 0, "recovery code") }} left.</span>
        <Button label="Make new ones" variant="outlined" size="small" @click="anew.mutate()" />
      </div>
    </AsyncState>
  </section>
</template>

<style scoped>
.codes {
  columns: 2;
  max-width: 460px;
  list-style: none;
  padding: 0;
  margin: 0;
}
img {
  background: #fff;
}
</style>
