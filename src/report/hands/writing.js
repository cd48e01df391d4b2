// The feel's text: changed by sliders, by hand, and back again.

class Writing {
  /** @param taken called with a text that a version is to go on with; throws what is wrong with it. */
  constructor(text, taken) {
    this.text = text;
    this.taken = taken;
    this.past = [];
    this.future = [];
  }

  /** What stands now is kept, to come back to. */
  mark() {
    if (this.past[this.past.length - 1] === this.text) return;
    this.past.push(this.text);
    if (this.past.length > 500) this.past.shift();
    this.future = [];
  }
  /** Another text; a broken one is let stand in the editor while the last good one plays on. \returns what is wrong. */
  put(text) {
    try {
      this.taken(text);
      this.text = text;
      return null;
    } catch (fault) {
      if (!(fault instanceof StasisFault)) throw fault;
      return fault.message;
    }
  }
  undo() { return this.step(this.past, this.future); }
  redo() { return this.step(this.future, this.past); }
  step(from, to) {
    while (from.length > 0) {
      const text = from.pop();
      if (text === this.text) continue;
      to.push(this.text);
      this.put(text);
      return true;
    }
    return false;
  }
}

/** Offers a text as a file. */
function download(name, text) {
  const link = element('a');
  link.href = URL.createObjectURL(new Blob([text], { type: 'text/plain' }));
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}

async function copy(text, from) {
  try {
    await navigator.clipboard.writeText(text);
  } catch { // a page from disk may not
    from.select();
    document.execCommand('copy');
  }
}
