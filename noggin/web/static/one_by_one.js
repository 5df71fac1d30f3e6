/* Something long, sent piece by piece from a form: how far it is, how long it takes, and a way to stop. */
"use strict";

window.oneByOne = function (form) {
  const progress = form.querySelector("progress");
  const said = form.querySelector("[role=status]");
  const cancel = form.querySelector("[data-cancel]");
  const go = form.querySelector("[type=submit]");
  let stopped = false;
  cancel.addEventListener("click", () => { stopped = true; });

  const plural = (count, word) => `${count} ${word}${count === 1 ? "" : "s"}`;

  function left(begun, done, all) {
    const seconds = Math.round(((Date.now() - begun) / done) * (all - done) / 1000);
    if (seconds < 60) return `${plural(seconds, "second")} left`;
    return `about ${plural(Math.round(seconds / 60), "minute")} left`;
  }

  // Sends `all` in pieces of `most`; `send` takes a piece and gives back whether to go on. Whether it was
  // stopped is said before what `summary` says.
  async function run(all, most, send, summary) {
    const begun = Date.now();
    stopped = false;
    progress.hidden = cancel.hidden = false;
    go.disabled = true;
    for (let done = 0; done < all.length && !stopped;) {
      if (!(await send(all.slice(done, done + most)))) break;
      done = Math.min(done + most, all.length);
      progress.value = done / all.length;
      said.textContent = `${done} of ${all.length}, ${left(begun, done, all.length)}`;
    }
    said.textContent = `${stopped ? "Stopped. " : ""}${summary()}`;
    progress.hidden = cancel.hidden = true;
    go.disabled = false;
  }

  // Posts what the form's action takes, as a part of the page.
  async function post(body) {
    const answer = await fetch(form.action, { method: "POST", body, headers: { "HX-Request": "true" } });
    if (!answer.ok) throw new Error(String(answer.status));
    return answer;
  }

  return { run, post, plural, said };
};
