document.addEventListener("click", (event) => {
  if (event.target.closest("[data-print]")) window.print();
});

// the arrow keys, or a pedal that sends them, turn the large pictures
document.addEventListener("keydown", (event) => {
  const way = { ArrowRight: "next", PageDown: "next", ArrowLeft: "prev", PageUp: "prev" }[event.key];
  document.querySelector(`.show-me a[rel=${way || "none"}]`)?.click();
});
