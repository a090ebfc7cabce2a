// What Write does to divisions and roles, each an act of the journal; what is refused is told.
import { api, newId, type PlanOrder, type ProofDivision } from '../shared/api';
import { notices } from '../shared/notices.svelte';
import { writer } from '../live/tab';

interface Hooks {
  /** An act is stored under this number. */
  stored: (act: number) => void;
  /** Reads the manual again. */
  reread: () => Promise<void>;
  /** Reads manual and division again; whether the caret stays where it is. */
  reopen: (stay?: boolean) => Promise<void>;
  open: (division: string, block: string) => Promise<void>;
}

export class DivisionActs {
  constructor(
    private readonly manual: string,
    private readonly hooks: Hooks,
  ) {}

  /** An act on the plan, as the Plan does it. */
  async plan(order: PlanOrder): Promise<boolean> {
    try {
      const done = await api.planAct(this.manual, writer, order);
      if (done.refused) throw new Error(done.refused);
      this.hooks.stored(done.act);
      return true;
    } catch (e) {
      notices.problem(e);
      return false;
    }
  }

  /** A division of a kind, behind another. */
  async add(kind: string, by: string | null) {
    const id = newId();
    if (!(await this.plan({ do: 'addDivision', rows: [id], at: kind, text: '', ...(by ? { by } : {}) }))) return;
    await this.told(async () => {
      await this.hooks.reread();
      await this.hooks.open(id, id + '-1');
    });
  }

  async remove(division: ProofDivision) {
    if (!(await this.plan({ do: 'takeOut', rows: [division.id] }))) return;
    await this.told(() => this.hooks.reopen(false));
    notices.tell(`“${division.title}” was taken out.`, () => void this.takeBack(false));
  }

  async addRole(name: string, foundation: string): Promise<boolean> {
    return this.told(async () => {
      await api.addRole(this.manual, name, foundation);
      await this.hooks.reread();
    });
  }

  /** Takes back the writer's last act, or does the last one taken back again. */
  async takeBack(again: boolean) {
    await this.told(async () => {
      const done = await api.takeBack(this.manual, writer, again);
      if (done.refused.length > 0) throw new Error(`“${done.label}” cannot be taken back: ${done.refused[0]!.why}`);
      if (done.act === 0) return notices.tell(again ? 'Nothing to do again.' : 'Nothing to take back.');
      notices.tell(`${again ? 'Done again' : 'Taken back'}: ${done.label}`);
      await this.hooks.reopen();
    });
  }

  /** @returns whether it went well */
  private async told(does: () => Promise<void>): Promise<boolean> {
    try {
      await does();
      return true;
    } catch (e) {
      notices.problem(e);
      return false;
    }
  }
}
