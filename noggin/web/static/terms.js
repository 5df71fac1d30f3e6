// Terms of the glossary explain themselves where they stand: one tap on the word. They are underlined without
// a change to the page, so that nothing that is swapped in loses its place.
(() => {
  "use strict";

  const address = document.querySelector("meta[name=terms]")?.content;
  const main = document.querySelector("main");
  if (!address || !main || !window.Highlight || !CSS.highlights) return;

  const CONTROLS = "a, button, input, select, textarea, summary, svg, output, [contenteditable], .hint-words";
  const REGION = "section, details, article, aside, main";
  let terms = new Map();
  let pattern = null;

  // A label of a figure may be tapped too; one of a choice is the choice.
  const isText = (node) => {
    const element = node.parentElement;
    if (!element || element.closest(CONTROLS)) return false;
    const label = element.closest("label");
    return !label || !["radio", "checkbox", "file"].includes(label.control?.type);
  };

  const found = function* (node) {
    for (const match of node.data.matchAll(pattern)) {
      yield { term: terms.get(match[1].toLowerCase()), from: match.index, to: match.index + match[0].length };
    }
  };

  const nodes = function* () {
    const walker = document.createTreeWalker(main, NodeFilter.SHOW_TEXT);
    while (walker.nextNode()) {
      if (walker.currentNode.data.trim() && isText(walker.currentNode)) yield walker.currentNode;
    }
  };

  const underline = () => {
    const marked = new Highlight();
    const seen = new Map();
    for (const node of nodes()) {
      for (const { term, from, to } of found(node)) {
        if (term.plain) continue;
        const region = node.parentElement.closest(REGION);
        const here = seen.get(region) ?? seen.set(region, new Set()).get(region);
        if (here.has(term)) continue;
        here.add(term);
        const range = new Range();
        range.setStart(node, from);
        range.setEnd(node, to);
        marked.add(range);
      }
    }
    CSS.highlights.set("terms", marked);
  };

  const words = document.createElement("p");
  words.id = "term-words";
  words.className = "hint-words";
  words.popover = "auto";

  const explain = (term) => {
    const name = document.createElement("b");
    name.textContent = `${term.term}: `;
    words.replaceChildren(name, term.means);
    words.showPopover();
    document.getElementById("announce").textContent = words.textContent;
  };

  const placeOf = (event) => {
    if (document.caretPositionFromPoint) {
      const at = document.caretPositionFromPoint(event.clientX, event.clientY);
      return at && [at.offsetNode, at.offset];
    }
    const at = document.caretRangeFromPoint?.(event.clientX, event.clientY);
    return at && [at.startContainer, at.startOffset];
  };

  const tapped = (event) => {
    if (!main.contains(event.target) || !getSelection().isCollapsed) return;
    const [node, offset] = placeOf(event) ?? [];
    if (node?.nodeType !== Node.TEXT_NODE || !isText(node) || !event.target.contains(node)) return;
    for (const { term, from, to } of found(node)) {
      if (offset < from || offset > to) continue;
      event.preventDefault();
      explain(term);
      return;
    }
  };

  // For the keyboard: every term that is on the page, in the dialog of keys.
  const listed = () => {
    const list = document.querySelector("[data-words-here]");
    const here = new Set();
    for (const node of nodes()) for (const { term } of found(node)) here.add(term);
    list.hidden = !here.size;
    list.querySelector("dl").replaceChildren(...[...here].sort((a, b) => a.term.localeCompare(b.term)).map((term) => {
      const row = document.createElement("div");
      const [name, means] = [document.createElement("dt"), document.createElement("dd")];
      name.textContent = term.term;
      means.textContent = term.means;
      row.append(name, means);
      return row;
    }));
  };

  const begin = async () => {
    const answer = await fetch(address).catch(() => null);
    if (!answer?.ok) return;  // without Noggin, and never read before
    const rows = await answer.json();
    terms = new Map(rows.map((row) => [row.term.toLowerCase(), row]));
    const names = rows.map((row) => row.term.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"));
    pattern = new RegExp(`(?<![\\w-])(${names.join("|")})s?(?![\\w-])`, "gi");
    document.getElementById("words-explained").append(words);
    underline();
    document.addEventListener("click", tapped);
    const dialog = document.getElementById("shortcuts");
    new MutationObserver(listed).observe(dialog, { attributeFilter: ["open"] });
    let waits = 0;
    document.addEventListener("htmx:after:swap", () => {
      clearTimeout(waits);
      waits = setTimeout(underline, 200);
    });
    document.documentElement.dataset.terms = "ready";
  };

  if (window.requestIdleCallback) requestIdleCallback(begin);
  else setTimeout(begin, 500);
})();
