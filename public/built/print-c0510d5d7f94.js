(()=>{document.addEventListener("click",t=>{t.target.closest("[data-print]")&&window.print()});})();
