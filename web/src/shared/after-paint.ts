/** Does something once what the last key changed is on the screen; in a tab that is not shown, soon. */
export function afterPaint(act: () => void): void {
  let done = false;
  const once = () => {
    if (done) return;
    done = true;
    act();
  };
  requestAnimationFrame(() => setTimeout(once));
  setTimeout(once, 100);
}
