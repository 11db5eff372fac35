// Signing out while entries wait: it is said for whom how many, and asked what is to become of them.

import { tell, hear } from "./channel.js";
import { entries } from "./queue.js";
import { sendNow } from "./sender.js";
import { element } from "./store.js";
import { forget } from "./vault.js";

const counted = () => {
  const by = new Map();
  entries().forEach(({ wearer }) => by.set(wearer, (by.get(wearer) || 0) + 1));
  return [...by];
};

async function go(form) {
  await forget();
  tell("signed out");
  form.dataset.asked = "yes";
  form.requestSubmit();
}

function ask(form) {
  const dialog = document.createElement("dialog");
  dialog.className = "ask-leave";
  const list = document.createElement("ul");
  counted().forEach(([wearer, count]) => list.append(element("li", `${wearer}: ${count}`)));
  const said = element("p", "");
  said.setAttribute("role", "alert");
  const button = (words, look, act) => {
    const made = element("button", words);
    made.className = `button ${look}`;
    made.type = "button";
    made.addEventListener("click", act);
    return made;
  };
  const doors = document.createElement("p");
  doors.className = "doors";
  doors.append(
    button("Send now", "is-primary", async () => {
      await sendNow();
      if (!entries().length) {
        dialog.close();
        go(form);
        return;
      }
      said.textContent = "Not all could be sent. They are in the list above the page.";
    }),
    button("Leave them for me", "", () => {
      dialog.close();
      go(form);
    }),
    button("Stay", "", () => dialog.close()),
  );
  dialog.append(
    element("h2", "Not saved yet"),
    element("p", "These entries are kept in this browser and not in the record:"),
    list,
    element("p", "Left here, they can be read by nobody else, and are sent when you sign in on this machine again."),
    said,
    doors,
  );
  dialog.addEventListener("close", () => dialog.remove());
  document.body.append(dialog);
  dialog.showModal();
}

export function watchLeave() {
  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (!form.matches('form[action="/logout"]') || form.dataset.asked) return;

    event.preventDefault();
    if (entries().length) ask(form);
    else go(form);
  });
  hear("signed out", () => location.assign("/login"));
}
