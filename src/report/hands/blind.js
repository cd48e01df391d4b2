// Which is livelier? Two versions under two names, twelve times; then whether the difference was felt at all.

const blindTrials = 12;

/** How likely it is to choose one of two at least so often, or at most as rarely, by chance. */
function byChance(chosen, trials) {
  const more = Math.max(chosen, trials - chosen);
  let share = 0;
  for (let k = more; k <= trials; ++k) {
    let ways = 1;
    for (let i = 0; i < k; ++i) ways = ways * (trials - i) / (i + 1);
    share += ways / 2 ** trials;
  }
  return Math.min(1, 2 * share);
}

class Blind {
  /** @param show called with 'a' or 'b', or null once it is over. */
  constructor(holder, show) {
    this.holder = holder;
    this.show = show;
    this.offer();
  }

  button(text, pressed) {
    const made = element('button', '', text);
    made.type = 'button';
    made.addEventListener('click', pressed);
    return made;
  }

  offer(said = 'Twelve times you get A and B as "one" and "two" and say which was livelier; then you read whether you felt the difference.') {
    this.holder.replaceChildren(this.button('Blind test', () => this.begin()), ' ', element('span', 'muted', said));
  }

  begin() {
    this.chosen = [];
    this.next();
  }

  next() {
    const first = Math.random() < 0.5 ? 'a' : 'b', second = first === 'a' ? 'b' : 'a';
    this.show(first);
    this.holder.replaceChildren(element('b', '', `Trial ${this.chosen.length + 1} of ${blindTrials} `),
      this.button('One', () => this.show(first)), ' ', this.button('Two', () => this.show(second)), ' which was livelier? ',
      this.button('One was', () => this.choose(first)), ' ', this.button('Two was', () => this.choose(second)), ' ',
      this.button('Stop', () => { this.show(null); this.offer(); }));
  }

  choose(version) {
    this.chosen.push(version);
    if (this.chosen.length < blindTrials) return this.next();
    const a = this.chosen.filter((one) => one === 'a').length, chance = byChance(a, blindTrials);
    this.show(null);
    const felt = chance < 0.05 ? `By chance that happens in ${brief(100 * chance)} % of tests: the difference was felt.`
      : `By chance that happens in ${brief(100 * chance)} % of tests: no difference was shown.`;
    this.offer(`A was livelier ${a} times, B ${blindTrials - a} times. ${felt}`);
  }
}
