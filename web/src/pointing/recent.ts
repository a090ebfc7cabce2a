// What this browser pointed at lately, in each manual: the likeliest to be pointed at again.
const most = 8;
const key = (manual: string) => `kivren.pointed.${manual}`;

export function recentTargets(manual: string): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key(manual)) ?? '[]');
    return Array.isArray(kept) ? kept.filter((k): k is string => typeof k === 'string').slice(0, most) : [];
  } catch {
    return [];
  }
}

export function pointedAt(manual: string, target: string) {
  const kept = [target, ...recentTargets(manual).filter((t) => t !== target)].slice(0, most);
  localStorage.setItem(key(manual), JSON.stringify(kept));
}
