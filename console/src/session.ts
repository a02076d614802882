import { reactive } from "vue";
import { api, data, Problem, type Me } from "@/api/client";

/** Who is signed in: undefined while that is not known yet, null for nobody. */
export const session = reactive<{ me: Me | null | undefined }>({ me: undefined });

/** Ask the service who is signed in. */
export async function findOut(): Promise<void> {
  try {
    session.me = await data(api.GET("/api/v1/session"));
  } catch (error) {
    if (!(error instanceof Problem) || error.status !== 401) throw error;
    session.me = null;
  }
}

export async function signIn(email: string, password: string): Promise<void> {
  session.me = await data(api.POST("/api/v1/session", { body: { email, password } }));
}

export async function signOut(): Promise<void> {
  await api.DELETE("/api/v1/session");
  session.me = null;
}
