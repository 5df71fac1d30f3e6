/* A log document, sent in pieces that are each whole: how far it is, and a way to stop. Without this script it
   goes at once. */
"use strict";

(function () {
  const form = document.querySelector("[data-pieces]");
  if (!form) return;
  const most = Number(form.dataset.pieces);
  const said = form.querySelector("[role=status]");
  const progress = form.querySelector("progress");
  const cancel = form.querySelector("[data-cancel]");
  const go = form.querySelector("[type=submit]");
  let stopped = false;

  async function send(frames) {
    const body = new FormData();
    body.append("csrf_token", form.elements.csrf_token.value);
    const text = JSON.stringify({ format: "noggin-log", version: 1, frames });
    body.append("file", new Blob([text], { type: "application/json" }), "log.json");
    const answer = await fetch(form.action, { method: "POST", body, headers: { "HX-Request": "true" } });
    if (!answer.ok) throw new Error(answer.statusText);
    return answer.json();
  }

  async function pieces(frames) {
    const counts = { new: 0, known: 0 };
    stopped = false;
    progress.hidden = cancel.hidden = false;
    go.disabled = true;
    let done = 0;
    let trouble = "";
    while (done < frames.length && !stopped && !trouble) {
      try {
        const came = await send(frames.slice(done, done + most));
        counts.new += came.new;
        counts.known += came.known;
        done = Math.min(done + most, frames.length);
        progress.value = done / frames.length;
        said.textContent = `${done} of ${frames.length} frames`;
      } catch (error) {
        trouble = "The rest could not be sent. Open the document again: none comes in twice. ";
      }
    }
    said.textContent = `${trouble}${stopped ? "Stopped. " : ""}${counts.new} new, ${counts.known} known already`;
    progress.hidden = cancel.hidden = true;
    go.disabled = false;
  }

  form.addEventListener("submit", (event) => {
    const file = form.elements.file.files[0];
    event.preventDefault();
    file.text().then((text) => {
      let found = null;
      try { found = JSON.parse(text); } catch (error) { found = null; }
      // What is no log, or a short one, goes as it is: the server says what is wrong with it.
      const long = found && found.format === "noggin-log" && Array.isArray(found.frames) && found.frames.length > most;
      if (long) pieces(found.frames);
      else form.submit();
    });
  });

  cancel.addEventListener("click", () => { stopped = true; });
})();
