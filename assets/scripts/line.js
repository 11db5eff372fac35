// Whether there is a line, and who is at its other end: asked before anything that waited is sent.

import { setBy } from "./clock.js";

const PATIENCE = 8000;

// no page, no other program and nobody else is taken for Handrail with this person signed in
//   { state: "there", token, build } | { state: "none" | "out" | "another" | "foreign" | "broken" }
export async function ask(account) {
  let answer;
  try {
    answer = await fetch("/line", { redirect: "manual", cache: "no-store", signal: AbortSignal.timeout(PATIENCE) });
  } catch {
    return { state: "none" };
  }
  if (answer.type === "opaqueredirect" || answer.status === 401) return { state: "out" };
  if (!answer.headers.get("handrail-build")) return { state: answer.status >= 500 ? "none" : "foreign" };
  if (!answer.ok) return { state: "broken" };

  try {
    const said = await answer.json();
    setBy(said.now);
    return { state: said.account === account ? "there" : "another", token: said.token, build: said.handrail };
  } catch {
    return { state: "foreign" };
  }
}

// of these keys of one's own entries those that have arrived; null where nobody could say
export async function arrived(keys, token) {
  const body = new URLSearchParams(keys.map((key) => ["keys[]", key]));
  body.set("authenticity_token", token);
  try {
    const answer = await fetch("/line/kept", { method: "POST", body, signal: AbortSignal.timeout(PATIENCE) });
    return answer.ok ? (await answer.json()).kept : null;
  } catch {
    return null;
  }
}
