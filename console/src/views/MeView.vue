<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { says } from "@/format";
import { session } from "@/session";
import { chooseTheme, theme, type Theme } from "@/theme";
import ConfirmAgain from "@/parts/ConfirmAgain.vue";
import MySecondFactors from "@/parts/MySecondFactors.vue";
import MySessions from "@/parts/MySessions.vue";
import MyTokens from "@/parts/MyTokens.vue";
import NewPasswordField from "@/parts/NewPasswordField.vue";
import { letLettersAct, lettersAct } from "@/use/keys";

const THEMES: [Theme, string][] = [
  ["system", "As the system has them"],
  ["light", "Light"],
  ["dark", "Dark"],
];
const router = useRouter();
const cache = useQueryClient();
const { data: me } = useQuery({ queryKey: ["me"], queryFn: () => data(api.GET("/api/v1/me")) });
const said = ref("");
const say = (words: string) => {
  said.value = words;
  document.getElementById("m-said")?.focus();
};
const prefer = useMutation({
  mutationFn: (what: { digest?: boolean; immediately?: boolean }) =>
    data(api.PATCH("/api/v1/me", { body: what })),
  onSuccess: (after) => {
    cache.setQueryData(["me"], after);
    said.value = "Your choice is saved.";
  },
});
const current = ref("");
const fresh = ref("");
const password = useMutation({
  mutationFn: () =>
    api.PUT("/api/v1/me/password", { body: { current: current.value, new: fresh.value } }),
  onSuccess: () => {
    current.value = fresh.value = "";
    say("Your password is changed; you are signed out everywhere else.");
  },
});
const everywhere = useMutation({
  mutationFn: () => api.DELETE("/api/v1/me/sessions"),
  onSuccess: () => {
    session.me = null;
    return router.push({ name: "sign-in" });
  },
});
const feed = useMutation({
  mutationFn: () => data(api.POST("/api/v1/me/feed")),
  onSuccess: (made) =>
    say(`Your feed, which anybody who knows this address can read: ${made.address}`),
});
const problem = computed(
  () => prefer.error.value ?? password.error.value ?? everywhere.error.value ?? feed.error.value,
);
const checked = (event: Event) => (event.target as HTMLInputElement).checked;
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">{{ me?.name ?? "About me" }}</h1>
    <p id="m-said" role="status" tabindex="-1" class="said">{{ said }}</p>
    <Message v-if="problem" severity="error" role="alert">{{ says(problem) }}</Message>
    <section v-if="me" class="card stack tight" aria-labelledby="m-emails">
      <h2 id="m-emails">E-mails</h2>
      <label class="choice"
        ><input
          type="checkbox"
          :checked="me.immediately"
          @change="(event) => prefer.mutate({ immediately: checked(event) })"
        />
        At once, when I am mentioned or something that I handed in is still there</label
      >
      <label class="choice"
        ><input
          type="checkbox"
          :checked="me.digest"
          @change="(event) => prefer.mutate({ digest: checked(event) })"
        />
        Every morning, when there is something new or late</label
      >
      <p v-if="session.isOperator">
        <RouterLink :to="{ name: 'emails' }">E-mails that were caught here</RouterLink>
      </p>
    </section>
    <section class="card stack tight" aria-labelledby="m-theme">
      <h2 id="m-theme">Colours</h2>
      <fieldset>
        <legend class="only-aloud">Colours</legend>
        <label v-for="[value, label] in THEMES" :key="value" class="choice"
          ><input
            type="radio"
            name="theme"
            :value="value"
            :checked="theme === value"
            @change="chooseTheme(value)"
          />
          {{ label }}</label
        >
      </fieldset>
    </section>
    <section class="card stack tight" aria-labelledby="m-keys">
      <h2 id="m-keys">Keys</h2>
      <label class="choice"
        ><input
          type="checkbox"
          :checked="lettersAct"
          @change="(event) => letLettersAct(checked(event))"
        />
        Single letters act: / finds, j and k go through lists, g and a letter go to a place, ? says
        them all</label
      >
    </section>
    <section class="card stack tight" aria-labelledby="m-feed">
      <h2 id="m-feed">Feed</h2>
      <p>Your desk as an Atom feed. A new address makes the old one void.</p>
      <div>
        <Button
          label="Make an address"
          variant="outlined"
          :loading="feed.isPending.value"
          @click="feed.mutate()"
        />
      </div>
    </section>
    <form class="card stack tight" aria-labelledby="m-password" @submit.prevent="password.mutate()">
      <h2 id="m-password">Password</h2>
      <div class="field">
        <label for="m-current">Your password now</label
        ><InputText
          id="m-current"
          v-model="current"
          type="password"
          autocomplete="current-password"
          required
        />
      </div>
      <div class="field">
        <NewPasswordField v-model="fresh" :about="[session.me?.name, session.me?.email]" />
      </div>
      <div class="row">
        <Button type="submit" label="Change it" :loading="password.isPending.value" /><Button
          label="Sign out everywhere"
          variant="outlined"
          @click="everywhere.mutate()"
        />
      </div>
    </form>
    <MySecondFactors class="tight" @said="say" />
    <MySessions class="tight" @said="say" />
    <MyTokens class="tight" @said="say" />
    <ConfirmAgain />
  </div>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 8px;
}
input[type="radio"] {
  width: 20px;
  height: 20px;
  accent-color: var(--plum);
}
.tight {
  gap: 10px;
  max-width: 720px;
}
.choice {
  display: flex;
  gap: 10px;
  align-items: center;
}
.said {
  overflow-wrap: anywhere;
}
</style>
