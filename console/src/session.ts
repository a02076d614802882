import { computed, reactive } from "vue";
import { api, data, Problem, type Me } from "@/api/client";

type Signed = Me | null | undefined;
const state = reactive<{ own: Signed; site: string | undefined }>({
  own: undefined,
  site: undefined,
});
const here = computed<Signed>(() => {
  const { own, site } = state;
  if (!own || site === undefined) return own;
  return { ...own, role: own.sites?.[site] ?? own.role };
});

/** Who is signed in, with the role that they have in the site that is looked at: undefined while that is not known yet, null for nobody. */
export const session = {
  get me(): Signed {
    return here.value;
  },
  set me(me: Signed) {
    state.own = me;
  },
  /** The areas of the site that is looked at which they are there for; undefined for all of it. */
  get areas(): string[] | undefined {
    return state.site === undefined ? undefined : state.own?.areas?.[state.site];
  },
  /** Whether they run the service: a manager of every site. */
  get isOperator(): boolean {
    return state.own?.role === "manager";
  },
};

/** Say which site is looked at, if any. */
export function lookAt(site: string | undefined): void {
  state.site = site;
}

/** Ask the service who is signed in. */
export async function findOut(): Promise<void> {
  try {
    session.me = await data(api.GET("/api/v1/session"));
  } catch (error) {
    if (!(error instanceof Problem) || error.status !== 401) throw error;
    session.me = null;
  }
}

/** Sign in by password, with a code where one has a second factor. */
export async function signIn(email: string, password: string, code?: string): Promise<void> {
  session.me = await data(
    api.POST("/api/v1/session", { body: { email, password, code: code || null } }),
  );
}

export async function signOut(): Promise<void> {
  await api.DELETE("/api/v1/session");
  session.me = null;
}
