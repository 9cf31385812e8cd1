/** What is known of a setting that is written in words. */
interface Shown {
  kind: string;
  unit?: string;
  options?: { value: string; label: string }[];
}

/** A setting's value as it is written in words: a choice by its label, a number with its unit. */
export function shownValue(spec: Shown | undefined, value: unknown): string {
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  const label = spec?.options?.find((o) => o.value === value)?.label;
  return label ?? `${String(value)}${spec?.kind === 'number' && spec.unit ? ` ${spec.unit}` : ''}`;
}
