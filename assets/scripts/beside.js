// The handbook beside the work: a leaf opens without leaving what is being typed, and goes away again.

const aside = () => document.getElementById("beside");

function close() {
  const leaf = aside();
  if (!leaf || leaf.hidden) return false;
  leaf.hidden = true;
  document.querySelector("#bench [autofocus]")?.focus();
  return true;
}

export function watchBeside() {
  document.addEventListener("htmx:afterSwap", (event) => {
    if (event.detail?.target?.id !== "beside-leaf") return;
    aside().hidden = false;
    const sought = aside().querySelector(".is-sought");
    if (sought) sought.scrollIntoView({ block: "start" });
    else aside().scrollTop = 0;
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-close-beside]")) close();
  });
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape" && close()) event.preventDefault();
  });
}
