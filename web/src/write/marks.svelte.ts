// The marks of the open division, anew when compositions rest a little, and not long after the first that is not marked:
// while letters are typed the page comes first. One asking at a time.
import { api, type DivisionMarks } from '../shared/api';

/** Milliseconds without another composition, and the longest that marks wait. */
const rest = 160;
const latest = 700;

export class Marks {
  now = $state.raw<DivisionMarks | null>(null);
  private division: string | null = null;
  private wanted = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private asking = false;

  constructor(private readonly manual: string) {}

  /** Another division: what is known of the one before says nothing of it. */
  forget() {
    this.now = null;
  }

  /** A composition came: its marks are wanted. */
  want(division: string) {
    this.division = division;
    this.wanted ||= performance.now();
    clearTimeout(this.timer);
    if (this.now === null) void this.ask();
    else this.timer = setTimeout(() => void this.ask(), Math.max(0, Math.min(rest, this.wanted + latest - performance.now())));
  }

  private async ask() {
    if (this.asking || !this.division) return;
    this.asking = true;
    this.wanted = 0;
    const asked = this.division;
    const marks = await api.marks(this.manual, asked).catch(() => null);
    this.asking = false;
    if (marks && this.division === asked) this.now = marks;
    if (this.wanted) this.want(this.division);
  }
}
