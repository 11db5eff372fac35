// Every table of a page as a CSV file, as it stands on the screen. A cell that a spreadsheet would run as a
// formula is written with an apostrophe before it.

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

export function offerTables() {
  document.querySelectorAll("main table.plain-table").forEach((table) => {
    if (table.dataset.csv || table.rows.length < 2) return;
    table.dataset.csv = "offered";
    const button = document.createElement("button");
    button.type = "button";
    button.className = "plain as-csv";
    button.textContent = "This table as CSV";
    button.addEventListener("click", () => save(table));
    table.after(button);
  });
}
