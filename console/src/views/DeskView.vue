<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { nextTick, ref } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, type Fix } from "@/api/client";
import { count, says, stateName, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import ConflictNote from "@/parts/ConflictNote.vue";
import FixLine from "@/parts/FixLine.vue";
import { RouterLink } from "vue-router";
import { useRowKeys } from "@/use/keys";
import { useMoves } from "@/use/moves";

const cache = useQueryClient();
const { data: desk, isPending, error, refetch } = useQuery({
  queryKey: ["desk"], queryFn: () => data(api.GET("/api/v1/desk")),
  refetchInterval: (query) => (query.state.data?.handed_in ? 3000 : 60_000),
});
const { data: notices } = useQuery({ queryKey: ["notices"], queryFn: () => data(api.GET("/api/v1/notices", { params: { query: { limit: 10 } } })) });
const KINDS: Record<string, string> = { handed_out: "New for you", returned: "Still there", mentioned: "You are mentioned", proven: "Proven", waiver_ended: "A waiver is over", handed_in: "Handed in" };

const told = ref("");
const { move, conflict } = useMoves();
async function make(fix: Fix, what: "take" | "hand_in") {
  try {
    const after = await move.mutateAsync({ fix, move: what });
    told.value = after.state === "handed_in" ? "Handed in; its pages are being read again." : `It is ${stateName(after.state)} now.`;
    await nextTick();
    document.getElementById("desk-told")?.focus();
  } catch {
    // the problem, or the conflict, is shown
  }
}
useRowKeys("fix");
const seen = useMutation({
  mutationFn: () => api.POST("/api/v1/notices/seen", { body: { id: notices.value!.items[0]!.id } }),
  onSuccess: () => Promise.all([cache.invalidateQueries({ queryKey: ["desk"] }), cache.invalidateQueries({ queryKey: ["notices"] })]),
});
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">My desk</h1>
    <AsyncState :loading="isPending" :error="error" what="your desk" @again="refetch()">
      <template v-if="desk">
        <p id="desk-told" role="status" tabindex="-1">{{ told || `${count(desk.open + desk.in_hand + desk.returned, "fix", "fixes")} to mend, ${desk.late} late, ${desk.returned} still there; ${desk.handed_in} handed in` }}</p>
        <ConflictNote v-if="conflict" :conflict="conflict" @again="move.mutate({ ...conflict.wanted, fix: conflict.now })" @leave="conflict = null" />
        <Message v-else-if="move.error.value" severity="error" role="alert">{{ says(move.error.value) }}</Message>
        <div class="columns">
          <div class="stack">
            <section v-for="page in desk.pages" :key="`${page.site} ${page.edition} ${page.path}`" class="card" :aria-label="`${page.path}, ${page.edition}`">
              <h2><RouterLink :to="{ name: 'page', params: { site: page.site }, query: { path: page.path, edition: page.edition } }">{{ page.path }}</RouterLink> <span class="soft where">{{ page.site }}, {{ page.edition }}</span></h2>
              <ul class="plain-list list"><li v-for="fix in page.fixes" :key="fix.id" data-row><FixLine :fix="fix" />
                <div class="row">
                  <Button v-if="fix.state === 'open' || fix.state === 'returned'" label="Take" size="small" variant="outlined" :aria-label="`Take: ${fix.says}, fix ${fix.id}`" @click="make(fix, 'take')" />
                  <Button v-if="fix.state !== 'handed_in'" label="Hand in" size="small" :aria-label="`Hand in: ${fix.says}, fix ${fix.id}`" @click="make(fix, 'hand_in')" />
                </div></li></ul>
            </section>
            <p v-if="!desk.pages.length" class="card">Nothing waits for you.</p>
          </div>
          <section class="card" aria-labelledby="told-title">
            <div class="row spread"><h2 id="told-title" tabindex="-1">What you were told</h2><Button v-if="desk.unread_notices" :label="`Seen (${desk.unread_notices} new)`" size="small" variant="outlined" @click="seen.mutate()" /></div>
            <ul v-if="notices?.items.length" class="timeline"><li v-for="notice in notices.items" :key="notice.id">
              <strong>{{ KINDS[notice.kind] ?? notice.kind }}</strong> <span class="soft">{{ time(notice.at) }}{{ notice.read_at ? "" : " · new" }}</span>
              <p><RouterLink :to="{ name: 'fix', params: { site: notice.site, fix: notice.fix_id } }" :aria-label="`${notice.says} ${notice.path}, fix ${notice.fix_id}, told ${time(notice.at)}`">{{ notice.says }}</RouterLink></p>
              <p v-if="notice.why">{{ notice.by ? `${notice.by}: ` : "" }}{{ notice.why }}</p></li></ul>
            <p v-else class="soft">Nothing yet.</p>
          </section>
        </div>
      </template>
    </AsyncState>
  </div>
</template>

<style scoped>
.where { font-size: 13px; font-weight: 400; }
.list li { display: flex; justify-content: space-between; gap: 14px; padding: 8px 0; flex-wrap: wrap; } .list li + li { border-top: 1px solid var(--line); } .list li > :first-child { flex: 1; min-width: min(280px, 100%); }
</style>
