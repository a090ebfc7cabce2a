/** Gives the focus to what was just put on the screen for the writer to type into. */
export function focusFirst(element: HTMLElement) {
  element.focus();
}
