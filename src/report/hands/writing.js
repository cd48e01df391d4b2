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

/** The file that a text is saved into, once it has been chosen. */
class SavedFile {
  /** @param name offered for it; @param text what it is taken to hold: of another file one is asked before it is replaced. */
  constructor(name, text) {
    this.name = name;
    this.text = text;
    this.handle = null;
  }

  static get isPossible() { return typeof window.showSaveFilePicker === 'function'; }

  /** @returns what has become of it, in words. */
  async save(text) {
    try {
      this.handle ??= await window.showSaveFilePicker({ suggestedName: this.name, types: [{ description: 'A feel', accept: { 'application/toml': ['.toml'] } }] });
      const there = await (await this.handle.getFile()).text();
      if (there !== '' && there !== this.text && !window.confirm(`${this.handle.name} holds another text than the one that was opened here. Replace it?`)) {
        this.handle = null;
        return 'not saved';
      }
      const writer = await this.handle.createWritable(); // takes the file's place when it is closed
      await writer.write(text);
      await writer.close();
      this.text = text;
      return `saved to ${this.handle.name}`;
    } catch (fault) {
      const isGivenUp = fault.name === 'AbortError';
      if (isGivenUp) this.handle = null;
      return isGivenUp ? 'not saved' : `not saved: ${fault.message}`;
    }
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

/** Looks at the script beside a watched page, which tells what is saved. */
function lookAgain() {
  const script = element('script');
  script.src = `${data.saved_in}?${Date.now()}`;
  const again = () => { script.remove(); setTimeout(lookAgain, 100); };
  script.addEventListener('load', again);
  script.addEventListener('error', again);
  document.head.append(script);
}

/** The module, unpacked by the browser. */
async function unpacked(base64) {
  const bytes = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
  return new Response(new Blob([bytes]).stream().pipeThrough(new DecompressionStream('gzip'))).arrayBuffer();
}
