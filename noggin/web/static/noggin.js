// What HTML and htmx cannot say: fields told wrong to a screen reader, and a server that is gone.
(() => {
  const trouble = () => document.getElementById("trouble");
  const markFields = () => {
    for (const figure of document.querySelectorAll(".figure")) {
      const input = figure.querySelector("input[name=text], select");
      if (figure.querySelector(".problem")) input.setAttribute("aria-invalid", "true");
      else input.removeAttribute("aria-invalid");
    }
  };
  document.addEventListener("htmx:after:swap", markFields);
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
