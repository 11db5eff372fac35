// Every table of a page as a CSV file, as it stands on the screen. A cell that a spreadsheet would run as a
// formula is written with an apostrophe before it. A list leaves the clinic only with who has shown lately that
// it is them: else the password is asked for again.

import { token } from "./store.js";

const FORMULA = /^[=+\-@\t\r]/;
const NUMBER = /^[+-]?\d+([.,]\d+)?$/;

export const cell = (text) => {
  const plain = text.replace(/\s+/g, " ").trim();
  const safe = FORMULA.test(plain) && !NUMBER.test(plain) ? `'${plain}` : plain;
  return /[",\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
};

// what a cell says: of a field its value, nothing of buttons and of what is not seen
function said(td) {
  const copy = td.cloneNode(true);
  td.querySelectorAll("select").forEach((select, i) => {
    copy.querySelectorAll("select")[i].replaceWith(select.selectedOptions[0]?.textContent || "");
  });
  copy.querySelectorAll("button, summary, .unseen, label, svg title").forEach((one) => one.remove());
  return copy.textContent;
}

const lines = (table) => [...table.rows].map((row) => [...row.cells].map((td) => cell(said(td))).join(","));

function save(table) {
  const link = document.createElement("a");
  const name = (document.querySelector("h1")?.textContent || "list").trim().toLowerCase().replace(/[^\p{L}\d]+/gu, "-");
  link.href = URL.createObjectURL(new Blob([`${lines(table).join("\r\n")}\r\n`], { type: "text/csv;charset=utf-8" }));
  link.download = `${name}.csv`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}

// Asks the server whether a list may leave. Resolves to null where it may, else to what is wrong.
async function refused(password = "") {
  const body = new URLSearchParams({ authenticity_token: token(), own_password: password });
  const answer = await fetch("/me/confirm", { method: "POST", body, headers: { "HX-Request": "true" } });
  if (answer.status === 204) return null;
  return answer.text();
}

// Saves a table at once, or after the password was given.
async function offer(table) {
  const why = await refused();
  if (!why) { save(table); return; }
  const dialog = document.createElement("dialog");
  dialog.className = "ask-password";
  dialog.innerHTML = `<form method="dialog" class="stack">
    <label class="label" for="list_password">Your password, once more</label>
    <input class="input" id="list_password" type="password" autocomplete="current-password" maxlength="200">
    <p class="fault" role="alert"></p>
    <p class="doors"><button class="button is-primary">Save the list</button>
      <button class="button" type="button">Not now</button></p>
  </form>`;
  const [form] = dialog.children;
  const field = form.querySelector("input");
  const said = form.querySelector(".fault");
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    const wrong = await refused(field.value).catch(() => "The server can not be reached. Nothing was saved.");
    said.textContent = wrong || "";
    if (wrong) { field.select(); return; }
    dialog.close();
    save(table);
  });
  form.querySelector("[type=button]").addEventListener("click", () => dialog.close());
  dialog.addEventListener("close", () => dialog.remove());
  document.body.append(dialog);
  dialog.showModal();
}

export function offerTables() {
  document.querySelectorAll("main table.plain-table").forEach((table) => {
    if (table.dataset.csv || table.rows.length < 2) return;
    table.dataset.csv = "offered";
    const button = document.createElement("button");
    button.type = "button";
    button.className = "plain as-csv";
    button.textContent = "This table as CSV";
    button.addEventListener("click", () => offer(table));
    table.after(button);
  });
}
