// What HTML and htmx cannot say: fields told wrong to a screen reader, and a server that is gone.
(() => {
  const trouble = () => document.getElementById("trouble");
  const markFields = () => {
    for (const field of document.querySelectorAll(".field")) {
      const input = field.querySelector("input[name=text], select");
      if (field.querySelector(".problem")) input.setAttribute("aria-invalid", "true");
      else input.removeAttribute("aria-invalid");
    }
  };
  // A morph leaves a field's text as it was typed: put the usual notation in its place, unless more
  // has been typed since, or is being typed now.
  const takeNotation = () => {
    for (const input of document.querySelectorAll("[data-take]")) {
      if (input.localName === "select") {
        const chosen = input.querySelector("option[selected]");
        if (chosen) input.value = chosen.value;
      } else if (input.dataset.take === input.value || input !== document.activeElement) {
        if (!input.closest(".field").querySelector(".problem")) input.value = input.getAttribute("value");
      }
      input.removeAttribute("data-take");
    }
  };
  document.addEventListener("htmx:after:swap", () => {
    takeNotation();
    markFields();
  });
  document.addEventListener("htmx:after:request", (event) => {
    if (event.detail.ctx.response?.status < 400) trouble().replaceChildren();
  });
  document.addEventListener("htmx:error", (event) => {
    console.warn(event.detail.error);
    const words = document.createElement("p");
    words.className = "trouble";
    words.textContent = "Noggin does not answer. What you typed stays here: start it again, then press Enter in the field.";
    trouble().replaceChildren(words);
  });
  markFields();
})();
