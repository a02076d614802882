import { nextTick } from "vue";
import { createRouter, createWebHistory, type RouteRecordRaw } from "vue-router";
import { findOut, lookAt, session } from "@/session";

/** A view of a site: its name, path below the site, component, title, and the entry of the menu that it stands under. */
function ofSite(
  name: string,
  path: string,
  component: RouteRecordRaw["component"],
  title: string,
  under = name,
): RouteRecordRaw {
  return {
    path: `/sites/:site${path}`,
    name,
    component: component!,
    props: true,
    meta: { title, under },
  };
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    {
      path: "/sign-in",
      name: "sign-in",
      component: () => import("@/views/SignIn.vue"),
      meta: { title: "Sign in", open: true },
    },
    {
      path: "/start",
      name: "start",
      component: () => import("@/views/StartView.vue"),
      meta: { title: "The first person", open: true },
    },
    {
      path: "/forgotten",
      name: "forgotten",
      component: () => import("@/views/ForgottenView.vue"),
      meta: { title: "Password forgotten", open: true },
    },
    {
      path: "/new-password",
      name: "new-password",
      component: () => import("@/views/NewPasswordView.vue"),
      meta: { title: "Choose a new password", open: true },
    },
    {
      path: "/invitation",
      name: "invitation",
      component: () => import("@/views/InvitationView.vue"),
      meta: { title: "Accept invitation", open: true },
    },
    {
      path: "/",
      name: "sites",
      component: () => import("@/views/SitesView.vue"),
      meta: { title: "Sites" },
    },
    {
      path: "/sites/new",
      name: "new-site",
      component: () => import("@/views/NewSiteView.vue"),
      meta: { title: "Register a site" },
    },
    ofSite("marks", "/marks", () => import("@/views/MarksView.vue"), "What was found", "pages"),
    ofSite("site", "", () => import("@/views/SiteView.vue"), "Overview"),
    ofSite("causes", "/causes", () => import("@/views/CausesView.vue"), "Causes"),
    ofSite(
      "cause",
      "/causes/:cause([0-9a-z-]+)",
      () => import("@/views/CauseView.vue"),
      "Cause",
      "causes",
    ),
    ofSite("pages", "/pages", () => import("@/views/PagesView.vue"), "Pages"),
    ofSite("page", "/page", () => import("@/views/PageView.vue"), "Page", "pages"),
    ofSite("findings", "/findings", () => import("@/views/FindingsView.vue"), "Findings"),
    ofSite(
      "finding",
      "/findings/:finding(\\d+)",
      () => import("@/views/FindingView.vue"),
      "Finding",
      "findings",
    ),
    ofSite("review", "/review", () => import("@/views/ReviewView.vue"), "Review"),
    ofSite(
      "question",
      "/review/question",
      () => import("@/views/QuestionView.vue"),
      "Question",
      "review",
    ),
    ofSite(
      "statement",
      "/statement",
      () => import("@/views/StatementView.vue"),
      "Statement and account",
    ),
    ofSite("fixes", "/fixes", () => import("@/views/FixesView.vue"), "Fixes"),
    ofSite(
      "corrections",
      "/corrections",
      () => import("@/views/CorrectionsView.vue"),
      "Corrections",
    ),
    ofSite("board", "/board", () => import("@/views/BoardView.vue"), "Board"),
    ofSite("calendar", "/calendar", () => import("@/views/CalendarView.vue"), "Calendar"),
    ofSite("fix", "/fixes/:fix(\\d+)", () => import("@/views/FixView.vue"), "Fix", "fixes"),
    {
      path: "/fixes/:fix(\\d+)",
      name: "fix-by-number",
      component: () => import("@/views/FixView.vue"),
      props: true,
      meta: { title: "Fix", under: "fixes" },
    },
    ofSite(
      "decisions",
      "/decisions",
      () => import("@/views/DecisionsView.vue"),
      "Waivers and judgements",
    ),
    ofSite("history", "/history", () => import("@/views/HistoryView.vue"), "History", "fixes"),
    ofSite("pictures", "/pictures", () => import("@/views/PicturesView.vue"), "Pictures"),
    ofSite("colours", "/colours", () => import("@/views/ColoursView.vue"), "Colours"),
    ofSite("links", "/links", () => import("@/views/LinksView.vue"), "Links"),
    ofSite("words", "/words", () => import("@/views/WordsView.vue"), "Words"),
    ofSite("sweeps", "/sweeps", () => import("@/views/SweepsView.vue"), "Sweeps"),
    ofSite(
      "compare",
      "/sweeps/compare",
      () => import("@/views/CompareView.vue"),
      "Two sweeps compared",
      "sweeps",
    ),
    ofSite(
      "sweep",
      "/sweeps/:sweep(\\d+)",
      () => import("@/views/SweepView.vue"),
      "Sweep",
      "sweeps",
    ),
    ofSite("going-out", "/going-out", () => import("@/views/GoingOutView.vue"), "Going out"),
    ofSite("gate", "/gate", () => import("@/views/GateView.vue"), "Gate"),
    ofSite("ask", "/gate/ask", () => import("@/views/AskView.vue"), "Ask the gate"),
    ofSite(
      "clearance",
      "/clearances/:clearance(\\d+)",
      () => import("@/views/ClearanceView.vue"),
      "Clearance",
      "gate",
    ),
    ofSite(
      "release",
      "/releases/:release(\\d+)",
      () => import("@/views/ReleaseView.vue"),
      "Release",
      "gate",
    ),
    ofSite("log", "/log", () => import("@/views/LogView.vue"), "What was done"),
    ofSite("people", "/people", () => import("@/views/PeopleView.vue"), "People and parts"),
    ofSite("policy", "/policy", () => import("@/views/PolicyView.vue"), "Policy"),
    ofSite("check", "/checks/:check+", () => import("@/views/CheckView.vue"), "Check", "policy"),
    {
      path: "/desk",
      name: "desk",
      component: () => import("@/views/DeskView.vue"),
      meta: { title: "Desk" },
    },
    {
      path: "/me",
      name: "me",
      component: () => import("@/views/MeView.vue"),
      meta: { title: "About me" },
    },
    {
      path: "/emails",
      name: "emails",
      component: () => import("@/views/EmailsView.vue"),
      meta: { title: "E-mails" },
    },
    {
      path: "/:rest(.*)",
      name: "nowhere",
      component: () => import("@/views/NowhereView.vue"),
      meta: { title: "Nothing here" },
    },
  ],
  scrollBehavior: (to, from, saved) => saved ?? (to.path === from.path ? undefined : { top: 0 }),
});

router.beforeEach(async (to) => {
  if (session.me === undefined) await findOut();
  if (!session.me && !to.meta.open) return { name: "sign-in", query: { to: to.fullPath } };
  if (session.me?.lacks_second_factor && !to.meta.open && to.name !== "me") return { name: "me" };
  const { site } = to.params;
  lookAt(typeof site === "string" ? site : undefined);
  return true;
});

/** After a move the reader is at the new page's heading: it is announced, and Tab goes on from there. */
router.afterEach(async (to, from) => {
  document.head.querySelector("title")!.textContent = `${String(to.meta.title)} – Plum Rake`;
  if (from.matched.length === 0 || to.path === from.path) return;
  await nextTick();
  const begun = performance.now();
  const settle = () => {
    const heading = document.querySelector<HTMLElement>("main h1");
    if (heading) heading.focus({ preventScroll: true });
    else if (performance.now() - begun < 3000) requestAnimationFrame(settle);
  };
  document.getElementById("main")?.focus({ preventScroll: true });
  settle();
});
