import type { SettingSpec } from '../../core/treatments/setting';

/** A setting's value as it is written in words: a choice by its label, a number with its unit. */
export function shownValue(spec: SettingSpec | undefined, value: unknown): string {
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  const label = spec?.options?.find((o) => o.value === value)?.label;
  return label ?? `${String(value)}${spec?.kind === 'number' && spec.unit ? ` ${spec.unit}` : ''}`;
}
