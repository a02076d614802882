<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Textarea from "primevue/textarea";
import { api, data } from "@/api/client";
import { count, day, moveName, moverName, says, stateName, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import CauseCorrections from "@/parts/CauseCorrections.vue";
import ConflictNote from "@/parts/ConflictNote.vue";
import CrumbTrail from "@/parts/CrumbTrail.vue";
import FixHowTo from "@/parts/FixHowTo.vue";
import FixWaiver from "@/parts/FixWaiver.vue";
import MarkedPicture from "@/parts/MarkedPicture.vue";
import OwnerPick from "@/parts/OwnerPick.vue";
import WeightMark from "@/parts/WeightMark.vue";
import { useDraft } from "@/use/drafts";
import { useMoves, type MoveName } from "@/use/moves";

const props = defineProps<{ fix: string; site?: string }>();
const id = computed(() => Number(props.fix));
const {
  data: shown,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["fix", id],
  queryFn: () =>
    data(api.GET("/api/v1/fixes/{fix_id}", { params: { path: { fix_id: id.value } } })),
  refetchInterval: (query) => (query.state.data?.state === "handed_in" ? 2000 : false),
});
const { data: finding } = useQuery({
  queryKey: ["finding", computed(() => shown.value?.finding_id)],
  queryFn: () =>
    data(
      api.GET("/api/v1/findings/{finding_id}", {
        params: { path: { finding_id: shown.value!.finding_id! } },
      }),
    ),
  enabled: computed(() => shown.value?.finding_id != null),
});
const {
  data: places,
  isPending: placesIsPending,
  error: placesError,
  refetch: refetchPlaces,
} = useQuery({
  queryKey: ["fix", id, "places", computed(() => shown.value?.changed_at)],
  queryFn: () =>
    data(
      api.GET("/api/v1/fixes/{fix_id}/places", {
        params: { path: { fix_id: id.value }, query: { limit: 100 } },
      }),
    ),
});

const BUTTONS: [MoveName, string][] = [
  ["take", "Take it"],
  ["hand_in", "Hand it in"],
  ["withdraw", "Not mended yet"],
  ["put_back", "Put it back"],
];
const able = (move: string) => shown.value?.moves.includes(move) ?? false;
const note = useDraft(`fix-note:${props.fix}`);
const words = note.words;
const owner = ref("none");
const due = ref("");
const said = ref("");

const { move, conflict } = useMoves();
async function make(what: { move: MoveName; why?: string; owner?: string; due_on?: string }) {
  const { words: written } = what.move === "note" || what.why ? note : { words: ref("") };
  try {
    const after = await move.mutateAsync({ fix: shown.value!, ...what });
    said.value =
      what.move === "note"
        ? "Your note is saved."
        : `It is ${stateName(after.state, after.reopened_after)} now.`;
    if (written.value) note.forget();
    await nextTick();
    document.getElementById("said")?.focus();
  } catch {
    // the problem, or the conflict, is shown
  }
}

async function waived(lastDay: string) {
  said.value = `It is waived until ${day(lastDay)}.`;
  await refetch();
  document.getElementById("said")?.focus();
}
</script>

<template>
  <AsyncState :loading="isPending" :error="error" what="the fix" @again="refetch()">
    <div v-if="shown" class="stack">
      <CrumbTrail
        :site="shown.site"
        :steps="[
          { says: 'Fixes', to: { name: 'fixes', params: { site: shown.site } } },
          { says: `Fix ${shown.id}` },
        ]"
      />
      <div>
        <h1 tabindex="-1" class="lead">{{ shown.says }}</h1>
        <p class="row">
          <WeightMark :weight="shown.weight" outcome="failed" /><span
            :class="['state', shown.state]"
            >{{ stateName(shown.state, shown.reopened_after) }}</span
          >
          <span
            >{{ shown.owner ?? shown.group ?? "nobody"
            }}{{ shown.due_on ? `, by ${day(shown.due_on)}` : ""
            }}<strong v-if="shown.late"> (late)</strong></span
          >
          <span class="soft"
            >{{ count(shown.places, "place") }} on {{ count(shown.pages, "page") }} of
            {{ shown.environment }}{{ shown.by_template ? ", printed by the template" : "" }}</span
          >
        </p>
      </div>
      <div class="row">
        <template v-for="[name, label] in BUTTONS" :key="name"
          ><Button
            v-if="able(name)"
            :label="label"
            :variant="name === 'take' || name === 'hand_in' ? undefined : 'outlined'"
            :loading="move.isPending.value && move.variables.value?.move === name"
            @click="make({ move: name, why: words })"
        /></template>
        <span id="said" role="status" tabindex="-1" class="soft">{{
          shown.state === "handed_in" ? "Its pages are being read again …" : said
        }}</span>
      </div>
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
          <div v-if="finding" class="card">
            <MarkedPicture :key="finding.id" :finding="finding" />
          </div>
          <FixHowTo v-if="finding" :fix="shown" :finding="finding" />
          <CauseCorrections
            :site="shown.site"
            :cause="shown.cause"
            :environment="shown.environment"
          />
          <section class="card" aria-labelledby="x-places">
            <h2 id="x-places">Places</h2>
            <AsyncState
              :loading="placesIsPending"
              :error="placesError"
              what="the places"
              @again="refetchPlaces()"
            >
              <ul class="plain-list">
                <li v-for="place in places?.items" :key="`${place.path} ${place.place_key}`">
                  <span :class="place.there ? 'there' : 'gone'">{{
                    place.there ? "there" : "gone"
                  }}</span>
                  <RouterLink
                    v-if="place.finding_id"
                    :to="{
                      name: 'finding',
                      params: { site: shown.site, finding: place.finding_id },
                    }"
                    :aria-label="`${place.path}, ${place.selector}`"
                    >{{ place.path }}</RouterLink><span v-else>{{ place.path }}</span>
                </li>
              </ul>
              <p v-if="places?.next" class="soft">
                … and more; 'plumrake fix show {{ shown.id }} --places' lists all.
              </p>
            </AsyncState>
          </section>
        </div>
        <div class="stack">
          <section class="card" aria-labelledby="x-thread">
            <h2 id="x-thread">What happened</h2>
            <ol class="timeline">
              <li v-for="event in shown.events" :key="event.id">
                <strong>{{ moverName(event) }}</strong> {{ moveName(event.move) }}
                <span class="soft">{{ time(event.at) }}</span>
                <p v-if="event.why">{{ event.why }}</p>
              </li>
            </ol>
            <p class="apart">
              <RouterLink
                :to="{
                  name: 'history',
                  params: { site: shown.site },
                  query: { cause: shown.cause },
                }"
                >History of this cause</RouterLink
              >
              ·
              <RouterLink
                :to="{ name: 'history', params: { site: shown.site }, query: { path: shown.path } }"
                >History of {{ shown.path }}</RouterLink
              >
            </p>
            <template v-if="shown.links.length"
              ><h3>Links</h3>
              <ul>
                <li v-for="link in shown.links" :key="link">
                  <a :href="link" rel="noreferrer noopener">{{ link }}</a>
                </li>
              </ul></template
            >
            <form
              v-if="able('note')"
              class="stack tight"
              @submit.prevent="make({ move: 'note', why: words })"
            >
              <label for="x-words">Note <span class="soft">(@name tells somebody)</span></label>
              <Textarea id="x-words" v-model="words" rows="2" maxlength="4000" />
              <div>
                <Button type="submit" label="Write" variant="outlined" :disabled="!words.trim()" />
              </div>
            </form>
          </section>
          <form
            v-if="able('assign')"
            class="card fields"
            aria-label="Hand on"
            @submit.prevent="make({ move: 'assign', owner, due_on: due, why: words })"
          >
            <OwnerPick id="x-owner" v-model="owner" label="Hand on to" nobody />
            <div class="field">
              <label for="x-due">By</label><InputText id="x-due" v-model="due" type="date" />
            </div>
            <Button type="submit" label="Hand on" variant="outlined" />
          </form>
          <FixWaiver v-if="able('waive') && shown.finding_id" :fix="shown" @waived="waived" />
        </div>
      </div>
    </div>
  </AsyncState>
</template>

<style scoped>
.apart {
  line-height: 1.9;
}
li {
  overflow-wrap: anywhere;
}
.gone {
  color: var(--good);
}
.there {
  color: var(--barrier-ink);
}
.gone,
.there {
  display: inline-block;
  min-width: 52px;
  font-weight: 600;
}
</style>
