/* A log document, sent in pieces that are each whole. Without this script it goes at once. */
"use strict";

(function () {
  const form = document.querySelector("[data-pieces]");
  if (!form) return;
  const most = Number(form.dataset.pieces);
  const sending = window.oneByOne(form);

  async function pieces(all) {
    const counts = { new: 0, known: 0 };
    let trouble = "";
    const send = async (frames) => {
      const text = JSON.stringify({ format: "noggin-log", version: 1, frames });
      const body = new FormData();
      body.append("csrf_token", form.elements.csrf_token.value);
      body.append("file", new Blob([text], { type: "application/json" }), "log.json");
      try {
        const came = await (await sending.post(body)).json();
        counts.new += came.new;
        counts.known += came.known;
        return true;
      } catch (error) {
        trouble = "The rest could not be sent. Open the document again: none comes in twice. ";
        return false;
      }
    };
    await sending.run(all, most, send, () => `${trouble}${counts.new} new, ${counts.known} known already`);
  }

  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    const text = await form.elements.file.files[0].text();
    let found = null;
    try { found = JSON.parse(text); } catch (error) { found = null; }
    // What is no log, or a short one, goes as it is: the server says what is wrong with it.
    const long = found && found.format === "noggin-log" && Array.isArray(found.frames) && found.frames.length > most;
    if (long) pieces(found.frames);
    else form.submit();
  });
})();
