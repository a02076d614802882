<script setup lang="ts">
import { computed, ref } from "vue";
import Button from "primevue/button";
import Dialog from "primevue/dialog";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, Problem } from "@/api/client";
import { says } from "@/format";
import { asking } from "@/use/confirmed";

/** Asks for the password again where what somebody does wants it. */
const password = ref("");
const code = ref("");
const wantsCode = ref(false);
const problem = ref("");
const busy = ref(false);
const open = computed({
  get: () => asking.waits !== null,
  set: (stays) => {
    if (!stays) end("leave");
  },
});

function end(how: "go" | "leave") {
  const { waits } = asking;
  asking.waits = null;
  password.value = code.value = problem.value = "";
  wantsCode.value = false;
  waits?.[how]();
}

async function confirm() {
  busy.value = true;
  problem.value = "";
  try {
    await api.POST("/api/v1/session/confirm", {
      body: { password: password.value, code: code.value || null },
    });
    end("go");
  } catch (error) {
    wantsCode.value ||= error instanceof Problem && error.code === "second-factor-wanted";
    problem.value = says(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <Dialog v-model:visible="open" modal header="Your password again" :draggable="false">
    <form class="stack" @submit.prevent="confirm">
      <p>What lets somebody in is changed only by who has just said who they are.</p>
      <Message v-if="problem" severity="error" role="alert">{{ problem }}</Message>
      <div class="field">
        <label for="again-password">Password</label
        ><InputText
          id="again-password"
          v-model="password"
          type="password"
          autocomplete="current-password"
          autofocus
          required
        />
      </div>
      <div v-if="wantsCode" class="field">
        <label for="again-code">Code of your app, or a recovery code</label
        ><InputText id="again-code" v-model="code" autocomplete="one-time-code" required />
      </div>
      <div class="row">
        <Button type="submit" label="Go on" :loading="busy" /><Button
          label="Leave it"
          variant="outlined"
          @click="end('leave')"
        />
      </div>
    </form>
  </Dialog>
</template>
