// Types of stasis.mjs. What the calls mean, their units and ranges: stasis.h.

export interface Fault {
  code: string; file: string | null; line: number; column: number; key: string; message: string; fix: string;
}
export class StasisFault extends Error {
  readonly faults: Fault[];
}

export interface Source {
  text: string;
  name?: string;
  files?: Record<string, string>;
  variant?: string | null;
  take?: string | null;
  fps?: number;
  tick?: number;
}

export type Kind = 'channel' | 'control' | 'shake' | 'track' | 'pose' | 'switch' | 'take' | 'variant' | 'setting' | 'sequence';

export interface FeelNumber {
  path: string; value: number; unit: string; has_unit: boolean;
  low: number | null; low_excluded: boolean; high: number | null; high_excluded: boolean;
  by: 'factor' | 'amount'; from: number; to: number; meaning: string;
}

export interface FeelCurve {
  path: string; text: string; handles: 'none' | 'bezier' | 'stops' | 'points'; is_exact: boolean;
  handle: [number, number][]; shown: number[];
}

export class Stasis {
  static load(bytes: BufferSource): Promise<Stasis>;
  readonly version: string;
  open(source: Source): Session;
  words(): { word: string; of: 'channel' | 'shake'; effect: string }[];
}

export class Session {
  close(): void;
  find(kind: Kind, name: string): number;
  describe(): any;
  listNumbers(): FeelNumber[];
  listCurves(): FeelCurve[];
  explain(channel: number): string | null;
  press(control: number, button?: number): void;
  release(control: number, button?: number): void;
  cancel(control: number): void;
  click(control: number, count: number): void;
  pointer(control: number, counts: number): void;
  stick(control: number, deflection: number): void;
  lock(control: number, locked: boolean): void;
  hit(shake: number, strength?: number): void;
  start(sequence: number): void;
  skip(sequence: number): void;
  gameSpeed(speed: number, over?: number): void;
  goal(channel: number, component: number, value: number): void;
  follow(channel: number, track: number): void;
  place(track: number, x: number, y?: number, z?: number): void;
  advance(dt: number): void;
  readonly frame: number;
  readonly time: number;
  readonly gameTime: number;
  value(channel: number, component?: number): number;
  smooth(channel: number, component?: number): number;
  goalOf(channel: number, component?: number): number;
  velocity(channel: number, component?: number): number;
  isDown(control: number): boolean;
  state(control: number): number;
  isIn(which: number): boolean;
  isRunning(sequence: number): boolean;
  strength(shake: number): number;
  eye(): number[] | null;
  camera(): number[] | null;
  subject(track: number): number[] | null;
  notes(): string[];
  save(): { restore(): boolean; forget(): void };
  readonly text: string;
  reload(text: string): void;
  set(path: string, value: number | string): void;
  tune(name: string, word: string, amount?: number): void;
  useVariant(name: string | null): void;
  record(keep: boolean): void;
  recordedTake(name: string, clock?: string | null): string | null;
  recordedClock(): string | null;
  recordedTrack(track: number): string | null;
  lastMoves(): any[];
  measures(): any;
}
