<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { nextTick, ref } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, type Fix } from "@/api/client";
import { count, notificationName, says, stateName, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import ConflictNote from "@/parts/ConflictNote.vue";
import FixLine from "@/parts/FixLine.vue";
import { RouterLink } from "vue-router";
import { useRowKeys } from "@/use/keys";
import { useMoves } from "@/use/moves";

const cache = useQueryClient();
const {
  data: desk,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["desk"],
  queryFn: () => data(api.GET("/api/v1/desk")),
  refetchInterval: (query) => (query.state.data?.handed_in ? 3000 : 60_000),
});
const { data: notifications } = useQuery({
  queryKey: ["notifications"],
  queryFn: () => data(api.GET("/api/v1/notifications", { params: { query: { limit: 10 } } })),
});
const said = ref("");
const { move, conflict } = useMoves();
async function make(fix: Fix, what: "take" | "hand_in") {
  try {
    const after = await move.mutateAsync({ fix, move: what });
    said.value =
      after.state === "handed_in"
        ? "Handed in; its pages are being read again."
        : `It is ${stateName(after.state, after.reopened_after)} now.`;
    await nextTick();
    document.getElementById("desk-said")?.focus();
  } catch {
    // the problem, or the conflict, is shown
  }
}
useRowKeys("fix");
const seen = useMutation({
  mutationFn: () =>
    api.POST("/api/v1/notifications/seen", { body: { id: notifications.value!.items[0]!.id } }),
  onSuccess: () =>
    Promise.all([
      cache.invalidateQueries({ queryKey: ["desk"] }),
      cache.invalidateQueries({ queryKey: ["notifications"] }),
    ]),
});
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">My desk</h1>
    <AsyncState :loading="isPending" :error="error" what="your desk" @again="refetch()">
      <template v-if="desk">
        <p id="desk-said" role="status" tabindex="-1">
          {{
            said ||
            `${count(desk.open + desk.in_hand + desk.reopened, "fix", "fixes")} to mend, ${desk.late} late, ${desk.reopened} found again; ${desk.handed_in} handed in`
          }}
        </p>
        <p v-for="one in desk.came_back" :key="one.site" class="card">
          <RouterLink
            :to="{
              name: 'corrections',
              params: { site: one.site },
              query: { state: 'conflict', mine: '1' },
            }"
            >{{ count(one.corrections, "correction") }} of yours in {{ one.site }} came
            back</RouterLink
          >: the source was changed meanwhile, or a reading still found the fault.
        </p>
        <ConflictNote
          v-if="conflict"
          :conflict="conflict"
          @again="move.mutate({ ...conflict.wanted, fix: conflict.now })"
          @leave="conflict = null"
        />
        <Message v-else-if="move.error.value" severity="error" role="alert">{{
          says(move.error.value)
        }}</Message>
        <div class="columns">
          <div class="stack">
            <section
              v-for="page in desk.pages"
              :key="`${page.site} ${page.environment} ${page.path}`"
              class="card"
              :aria-label="`${page.path}, ${page.environment}`"
            >
              <h2>
                <RouterLink
                  :to="{
                    name: 'page',
                    params: { site: page.site },
                    query: { path: page.path, environment: page.environment },
                  }"
                  >{{ page.path }}</RouterLink
                >
                <span class="soft where">{{ page.site }}, {{ page.environment }}</span>
              </h2>
              <ul class="plain-list list">
                <li v-for="fix in page.fixes" :key="fix.id" data-row>
                  <FixLine :fix="fix" />
                  <div class="row">
                    <Button
                      v-if="fix.state === 'open' || fix.state === 'reopened'"
                      label="Take"
                      size="small"
                      variant="outlined"
                      :aria-label="`Take: ${fix.says}, fix ${fix.id}`"
                      @click="make(fix, 'take')"
                    />
                    <Button
                      v-if="fix.state !== 'handed_in'"
                      label="Hand in"
                      size="small"
                      :aria-label="`Hand in: ${fix.says}, fix ${fix.id}`"
                      @click="make(fix, 'hand_in')"
                    />
                  </div>
                </li>
              </ul>
            </section>
            <p v-if="!desk.pages.length" class="card">Nothing waits for you.</p>
          </div>
          <section class="card" aria-labelledby="notifications-title">
            <div class="row spread">
              <h2 id="notifications-title" tabindex="-1">Notifications</h2>
              <Button
                v-if="desk.unread_notifications"
                :label="`Seen (${desk.unread_notifications} new)`"
                size="small"
                variant="outlined"
                @click="seen.mutate()"
              />
            </div>
            <ul v-if="notifications?.items.length" class="timeline">
              <li v-for="notification in notifications.items" :key="notification.id">
                <strong>{{
                  notificationName(notification.kind, notification.reopened_after)
                }}</strong>
                <span class="soft"
                  >{{ time(notification.at) }}{{ notification.read_at ? "" : " · new" }}</span
                >
                <p>
                  <RouterLink
                    :to="{
                      name: 'fix',
                      params: { site: notification.site, fix: notification.fix_id },
                    }"
                    :aria-label="`${notification.says} ${notification.path}, fix ${notification.fix_id}, said ${time(notification.at)}`"
                    >{{ notification.says }}</RouterLink
                  >
                </p>
                <p v-if="notification.why">
                  {{ notification.by ? `${notification.by}: ` : "" }}{{ notification.why }}
                </p>
              </li>
            </ul>
            <p v-else class="soft">Nothing yet.</p>
          </section>
        </div>
      </template>
    </AsyncState>
  </div>
</template>

<style scoped>
.where {
  font-size: 13px;
  font-weight: 400;
}
.list li {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  padding: 8px 0;
  flex-wrap: wrap;
}
.list li + li {
  border-top: 1px solid var(--line);
}
.list li > :first-child {
  flex: 1;
  min-width: min(280px, 100%);
}
</style>
