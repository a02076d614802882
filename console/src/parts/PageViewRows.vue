<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { api, data, type Finding } from "@/api/client";
import AsyncState from "@/parts/AsyncState.vue";
import LinkLead from "@/parts/LinkLead.vue";
import NameTrace from "@/parts/NameTrace.vue";

type PageViewName =
  "outline" | "heard" | "order" | "links" | "pictures" | "colours" | "names" | "focus";
/** One view of a page, as others meet it: its lines, with the faults in them. */
const props = defineProps<{
  site: string;
  reading: number;
  view: PageViewName;
  findings: Finding[];
}>();
const {
  data: shown,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["page-view", computed(() => [props.reading, props.view])],
  queryFn: () =>
    data(
      api.GET("/api/v1/readings/{reading_id}/views/{name}", {
        params: { path: { reading_id: props.reading, name: props.view } },
      }),
    ),
  staleTime: Infinity,
});
interface Row {
  kind?: string;
  level?: number | null;
  depth?: number;
  name: string;
  selector: string;
  faults?: string[];
  line?: string;
  text?: string;
  target?: string;
  leads?: InstanceType<typeof LinkLead>["$props"]["lead"];
  file?: string;
  source?: string;
  decorative?: boolean;
  box?: number[] | null;
  background?: string;
  ratio?: number;
  required?: number;
  passes?: boolean;
  uses?: number;
  role?: string;
  exposed?: boolean;
  trace?: { step: string; selector: string; says: string; text: string }[];
}
const rows = computed(() => (shown.value?.rows ?? []) as unknown as Row[]);
const LEADS: Record<PageViewName, string> = {
  outline: "Headings and landmarks as one tree. What is wrong stands beside it.",
  heard: "Line by line, roughly as read aloud by a screen reader.",
  order: "The text in the order of the source, tables cell by cell. Does it make sense read so?",
  links: "The links alone, as a list of links reads them. Does each say where it goes?",
  pictures: "Every picture with the text it has. Does the text say what the picture means here?",
  colours: "Every pair of text and background, the palest first.",
  names: "Everything that has a role, with its name and how the name came to be.",
  focus:
    "What Tab comes to, one after the other; on the picture by number and line. Is that the order of use?",
};
/** What is still to be mended at a row's place: its finding opens where that is done. */
const open = computed(
  () =>
    new Map(
      props.findings
        .filter((one) => ["counts", "doubtful"].includes(one.standing))
        .map((one) => [one.selector, one.id]),
    ),
);
const toMend = (row: Row) => ({
  name: "finding",
  params: { site: props.site, finding: open.value.get(row.selector) },
});
const cut = (box: number[]) =>
  `/api/v1/readings/${props.reading}/cut?x=${box[0]}&y=${box[1]}&width=${Math.max(1, box[2]!)}&height=${Math.max(1, box[3]!)}`;
</script>

<template>
  <div>
    <p class="soft">{{ LEADS[view] }}</p>
    <AsyncState :loading="isPending" :error="error" what="the page" @again="refetch()">
      <p v-if="!shown?.stored">
        It is not stored for this reading any more; read the page again to see it.
      </p>
      <p v-else-if="!rows.length">There is nothing of this kind on the page.</p>
      <ul v-else-if="view === 'outline'" class="plain-list outline">
        <li
          v-for="(row, at) in rows"
          :key="at"
          :style="{
            paddingLeft: `${((row.depth ?? 0) + Math.max(0, (row.level ?? 1) - 1)) * 18}px`,
          }"
          :class="row.kind"
        >
          <span class="badge">{{ row.kind === "heading" ? `h${row.level}` : row.kind }}</span>
          <span :class="{ none: !row.name && row.kind === 'heading' }">{{
            row.name || (row.kind === "heading" ? "(empty)" : "(untitled)")
          }}</span>
          <RouterLink
            v-for="fault in row.faults"
            :key="fault"
            class="fault"
            :to="{ name: 'check', params: { site, check: fault.split('/') } }"
            :aria-label="`${fault}: ${row.name || row.kind}, line ${at + 1}`"
            >{{ fault }}</RouterLink
          >
          <RouterLink
            v-if="open.has(row.selector)"
            class="mend"
            :to="toMend(row)"
            :aria-label="`mend it: ${row.name || row.kind}, line ${at + 1}`"
            >mend it</RouterLink
          >
        </li>
      </ul>
      <ol v-else-if="view === 'heard'" class="lines">
        <li v-for="(row, at) in rows" :key="at">
          {{ row.line }}
          <RouterLink
            v-if="open.has(row.selector)"
            class="mend"
            :to="toMend(row)"
            :aria-label="`mend it: line ${at + 1}, ${row.line}`"
            >mend it</RouterLink
          >
        </li>
      </ol>
      <ol v-else-if="view === 'focus'" class="lines">
        <li v-for="(row, at) in rows" :key="at">
          <span class="soft">{{ row.role }}</span>
          <span> {{ row.name || "(no name)" }}</span>
          <span v-for="fault in row.faults" :key="fault" class="fault">{{ fault }}</span>
          <RouterLink
            v-if="open.has(row.selector)"
            class="mend"
            :to="toMend(row)"
            :aria-label="`mend it: stop ${at + 1}, ${row.name}`"
            >mend it</RouterLink
          >
        </li>
      </ol>
      <ol v-else-if="view === 'order'" class="lines">
        <li v-for="(row, at) in rows" :key="at">{{ row.text }}</li>
      </ol>
      <table v-else-if="view === 'links'" class="plain">
        <caption class="only-aloud">
          Links of the page
        </caption>
        <thead>
          <tr>
            <th scope="col">Link</th>
            <th scope="col">Leads to</th>
            <th v-if="rows.some((row) => row.leads)" scope="col">Is it there?</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, at) in rows" :key="at">
            <td :class="{ none: !row.name }">{{ row.name || "(no name)" }}</td>
            <td class="soft">{{ row.target }}</td>
            <td v-if="rows.some((one) => one.leads)">
              <LinkLead v-if="row.leads" :lead="row.leads" />
            </td>
          </tr>
        </tbody>
      </table>
      <ul v-else-if="view === 'pictures'" class="plain-list">
        <li v-for="(row, at) in rows" :key="at" class="pic">
          <img
            v-if="row.box && row.box[2]! > 0"
            :src="cut(row.box)"
            alt=""
            loading="lazy"
            @error="($event.target as HTMLElement).remove()"
          /><span v-else class="soft small">not seen</span>
          <span
            ><strong :class="{ none: !row.decorative && !row.name }">{{
              row.decorative ? "(marked as decorative)" : row.name || "(no text)"
            }}</strong
            ><br /><span class="soft small">{{ row.file || row.selector }}</span></span
          >
        </li>
      </ul>
      <table v-else-if="view === 'colours'" class="plain figure">
        <caption class="only-aloud">
          Colour pairs of the page
        </caption>
        <thead>
          <tr>
            <th scope="col">Pair</th>
            <th scope="col">Ratio</th>
            <th scope="col">Uses</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, at) in rows" :key="at">
            <td>
              <span class="swatch" :style="{ background: row.text }" />
              <code>{{ row.text }}</code> on
              <span class="swatch" :style="{ background: row.background }" />
              <code>{{ row.background }}</code>
            </td>
            <td :class="{ none: !row.passes }">
              {{ row.ratio?.toFixed(2) }}:1{{ row.passes ? "" : `, ${row.required}:1 wanted` }}
            </td>
            <td>{{ row.uses }}</td>
          </tr>
        </tbody>
      </table>
      <ul v-else class="plain-list">
        <li v-for="(row, at) in rows.slice(0, 400)" :key="at" class="named">
          <details>
            <summary>
              <span class="badge">{{ row.role }}</span>
              <span :class="{ none: !row.name }">{{ row.name || "(no name)" }}</span>{{
                row.exposed ? "" : " (hidden)"
              }}
            </summary>
            <NameTrace :steps="row.trace ?? []" />
          </details>
        </li>
      </ul>
      <p v-if="view === 'names' && rows.length > 400" class="soft">
        … and {{ rows.length - 400 }} more.
      </p>
    </AsyncState>
  </div>
</template>

<style scoped>
.badge {
  display: inline-block;
  min-width: 34px;
  padding: 0 7px;
  border: 1px solid var(--edge);
  border-radius: 5px;
  font-size: 13px;
  font-weight: 600;
  text-align: center;
}
.outline li {
  padding: 3px 0;
  overflow-wrap: anywhere;
}
.none {
  color: var(--barrier-ink);
  font-weight: 600;
}
.fault {
  margin-left: 10px;
  font-size: 13px;
  font-weight: 600;
  color: var(--barrier-ink);
}
.mend {
  margin-left: 10px;
  font-size: 14px;
}
.lines {
  padding-left: 44px;
  margin: 0;
}
.lines li {
  padding: 2px 0;
  overflow-wrap: anywhere;
}
.pic {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: 14px;
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
  align-items: start;
  overflow-wrap: anywhere;
}
.pic img {
  max-width: 150px;
  max-height: 110px;
  border: 1px solid var(--line);
  border-radius: 6px;
}
.named {
  border-bottom: 1px solid var(--line);
  overflow-wrap: anywhere;
}
.named summary {
  font-weight: 400;
}
</style>
