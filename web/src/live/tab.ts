// Which place of writing this tab is. A tab keeps its name through a reload; a duplicated tab, which the browser gives the
// same session, finds the name held and takes another. A held lock says that the tab lives.

const fresh = () => crypto.randomUUID().replaceAll('-', '');
const key = 'kivren.writer';
const lockOf = (id: string) => `kivren.tab.${id}`;

/** The name of this tab as a writer; settled by `settleTab`, which comes before anything is shown. */
export let writer = sessionStorage.getItem(key) ?? fresh();

/** Takes the lock of a name for as long as the tab lives; false when another tab holds it. */
function hold(id: string): Promise<boolean> {
  return new Promise((settle) => {
    navigator.locks
      .request(lockOf(id), { ifAvailable: true }, (lock) => {
        settle(lock !== null);
        return lock ? new Promise<never>(() => undefined) : undefined;
      })
      .catch(() => settle(false));
  });
}

export async function settleTab(): Promise<void> {
  if (!('locks' in navigator)) writer = fresh();
  else while (!(await hold(writer))) writer = fresh();
  sessionStorage.setItem(key, writer);
}

/** Whether another tab of this name is open. Where the browser cannot tell, it is not. */
export async function lives(id: string): Promise<boolean> {
  if (id === writer) return true;
  if (!('locks' in navigator)) return false;
  const { held } = await navigator.locks.query();
  return held?.some((lock) => lock.name === lockOf(id)) ?? false;
}
