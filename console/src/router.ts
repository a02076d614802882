import { nextTick } from "vue";
import { createRouter, createWebHistory } from "vue-router";
import { findOut, session } from "@/session";

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/sign-in", name: "sign-in", component: () => import("@/views/SignIn.vue"), meta: { title: "Sign in", open: true } },
    { path: "/", name: "sites", component: () => import("@/views/SitesView.vue"), meta: { title: "Sites" } },
    { path: "/sites/:site", name: "site", component: () => import("@/views/SiteView.vue"), props: true, meta: { title: "Overview" } },
    { path: "/sites/:site/findings", name: "findings", component: () => import("@/views/FindingsView.vue"), props: true, meta: { title: "Findings" } },
    { path: "/sites/:site/findings/:finding(\\d+)", name: "finding", component: () => import("@/views/FindingView.vue"), props: true, meta: { title: "Finding" } },
    { path: "/sites/:site/sweeps/:sweep(\\d+)", name: "sweep", component: () => import("@/views/SweepView.vue"), props: true, meta: { title: "Sweep" } },
    { path: "/sites/:site/causes", name: "causes", component: () => import("@/views/CausesView.vue"), props: true, meta: { title: "Causes" } },
    { path: "/sites/:site/fixes", name: "fixes", component: () => import("@/views/FixesView.vue"), props: true, meta: { title: "Fixes" } },
    { path: "/sites/:site/fixes/:fix(\\d+)", name: "fix", component: () => import("@/views/FixView.vue"), props: true, meta: { title: "Fix" } },
    { path: "/fixes/:fix(\\d+)", name: "fix-by-number", component: () => import("@/views/FixView.vue"), props: true, meta: { title: "Fix" } },
    { path: "/sites/:site/decisions", name: "decisions", component: () => import("@/views/DecisionsView.vue"), props: true, meta: { title: "Waivers and judgements" } },
    { path: "/sites/:site/history", name: "history", component: () => import("@/views/HistoryView.vue"), props: true, meta: { title: "History" } },
    { path: "/sites/:site/people", name: "people", component: () => import("@/views/PeopleView.vue"), props: true, meta: { title: "People and parts" } },
    { path: "/desk", name: "desk", component: () => import("@/views/DeskView.vue"), meta: { title: "Desk" } },
    { path: "/me", name: "me", component: () => import("@/views/MeView.vue"), meta: { title: "About me" } },
    { path: "/letters", name: "letters", component: () => import("@/views/LettersView.vue"), meta: { title: "Letters" } },
    { path: "/invitation", name: "invitation", component: () => import("@/views/InvitationView.vue"), meta: { title: "Come in", open: true } },
    { path: "/:rest(.*)", name: "nowhere", component: () => import("@/views/NowhereView.vue"), meta: { title: "Nothing here" } },
  ],
});

router.beforeEach(async (to) => {
  if (session.me === undefined) await findOut();
  if (!session.me && !to.meta.open) return { name: "sign-in", query: { to: to.fullPath } };
  return true;
});

router.afterEach(async (to, from) => {
  document.head.querySelector("title")!.textContent = `${String(to.meta.title)} – Plum Rake`;
  if (from.matched.length === 0 || to.path === from.path) return;
  await nextTick();
  document.querySelector<HTMLElement>("h1")?.focus();
});
