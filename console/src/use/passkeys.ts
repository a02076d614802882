import { api, data } from "@/api/client";
import { session } from "@/session";

/** Browsers of 2025 and newer read and write passkeys as JSON (WebAuthn level 3, 5.1.9 and 5.1.10); for addresses of numbers they make none. */
export const hasPasskeys =
  "PublicKeyCredential" in window &&
  "parseRequestOptionsFromJSON" in window.PublicKeyCredential &&
  window.isSecureContext &&
  /[a-z]/i.test(location.hostname);

const asJson = (credential: Credential | null) =>
  JSON.stringify((credential as PublicKeyCredential).toJSON());

/** Sign in with a passkey of the device. */
export async function signInByPasskey(): Promise<void> {
  const asked = await data(api.POST("/api/v1/session/passkey/begin"));
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(JSON.parse(asked.options));
  const answer = asJson(await navigator.credentials.get({ publicKey }));
  session.me = await data(
    api.POST("/api/v1/session/passkey", { body: { secret: asked.secret, answer } }),
  );
}

/** Make a passkey on the device; return recovery codes, if there were none before. */
export async function makePasskey(name: string): Promise<string[]> {
  const asked = await data(api.POST("/api/v1/me/passkeys/begin"));
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(JSON.parse(asked.options));
  const answer = asJson(await navigator.credentials.create({ publicKey }));
  const made = await data(
    api.POST("/api/v1/me/passkeys", { body: { secret: asked.secret, answer, name } }),
  );
  return made.codes;
}
