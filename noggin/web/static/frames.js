/* Files of frames, sent one by one: how far it is, how long it takes, and a way to stop. Without this script
   they all go at once. */
"use strict";

(function () {
  const form = document.getElementById("bring-in");
  if (!form) return;
  const picker = form.querySelector("#frames");
  const sending = window.oneByOne(form);
  const taken = document.getElementById("taken");
  const most = Number(form.dataset.most);
  const SHOWN = 200;
  let dropped = [];

  function tell(name, words) {
    const line = document.createElement("li");
    line.className = "taken-skipped";
    const bold = document.createElement("b");
    bold.textContent = name;
    line.append(bold, ` ${words}`);
    taken.prepend(line);
  }

  async function send(file) {
    const body = new FormData();
    for (const field of form.elements) {
      if (!field.name || field === picker || (field.type === "checkbox" && !field.checked)) continue;
      body.append(field.name, field.value);
    }
    body.append("frames", file, file.webkitRelativePath || file.name);
    return (await sending.post(body)).text();
  }

  async function each(files) {
    const counts = { new: 0, known: 0, skipped: 0 };
    const one = async ([file]) => {
      if (file.size > most) {
        tell(file.name, "is too large for a page: bring it in by the terminal");
        counts.skipped += 1;
      } else {
        try {
          const line = document.createElement("template");
          line.innerHTML = await send(file);
          const state = line.content.querySelector("[data-state]");
          counts[state ? state.dataset.state : "skipped"] += 1;
          taken.prepend(line.content);
        } catch (error) {
          tell(file.name, "could not be sent. Try it again: what is in already stays");
          counts.skipped += 1;
        }
      }
      while (taken.children.length > SHOWN) taken.lastElementChild.remove();
      return true;
    };
    await sending.run(
      files, 1, one, () => `${counts.new} new, ${counts.known} known already, ${counts.skipped} skipped`,
    );
    picker.value = "";
    dropped = [];
  }

  async function within(entry, files) {
    if (entry.isFile) {
      files.push(await new Promise((resolve, reject) => entry.file(resolve, reject)));
      return;
    }
    const reader = entry.createReader();
    for (;;) {
      const some = await new Promise((resolve, reject) => reader.readEntries(resolve, reject));
      if (!some.length) return;
      for (const one of some) await within(one, files);
    }
  }

  form.addEventListener("submit", (event) => {
    event.preventDefault();
    const files = [...picker.files, ...dropped];
    if (!files.length) {
      sending.said.textContent = "Choose files first, or drop them here.";
      picker.focus();
      return;
    }
    each(files);
  });

  const zone = form.querySelector("[data-drop]");
  for (const name of ["dragover", "dragenter"]) {
    zone.addEventListener(name, (event) => { event.preventDefault(); zone.classList.add("drop-over"); });
  }
  zone.addEventListener("dragleave", () => zone.classList.remove("drop-over"));
  zone.addEventListener("drop", async (event) => {
    event.preventDefault();
    zone.classList.remove("drop-over");
    const entries = [...event.dataTransfer.items].map((item) => item.webkitGetAsEntry()).filter(Boolean);
    const files = [];
    for (const entry of entries) await within(entry, files);
    dropped = files;
    sending.said.textContent = `${sending.plural(files.length, "file")} dropped`;
  });
})();
