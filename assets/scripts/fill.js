// A time that is offered fills the form that it belongs to, and sends it where nothing else is missing.

function filled(event) {
  const button = event.target.closest("[data-fill]");
  if (!button) return;

  const { form } = button;
  for (const [name, value] of new URLSearchParams(button.dataset.fill)) {
    if (form.elements[name]) form.elements[name].value = value;
  }
  const empty = [...form.querySelectorAll("input:not([type=hidden]):not([type=checkbox])")].find((one) => !one.value);
  if (empty) empty.focus();
  else form.requestSubmit();
}

export function watchFills() {
  document.addEventListener("click", filled);
}
