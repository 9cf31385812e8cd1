import { type ConditionReport, type LaidNode, layOut, type StreamInfo, treatment } from '../core';
import { displayWidth } from '../shared/display';
import { ratio, reduceRational } from '../shared/maps/rational';
import { isFork, type Plan, type PlanEntry } from '../shared/plan';
import type { MediaFacts } from '../media';

const row = (name: string, value: string): string => `${name.padEnd(16)}${value}`;

/** Facts as a table for a terminal. */
export function factsText(facts: MediaFacts & { fileName: string; sha256: string }): string {
  const { stream: s } = facts;
  const display = reduceRational({ num: s.width * s.pixelAspect.num, den: s.height * s.pixelAspect.den });
  const lines = [
    row('File', facts.fileName),
    row('SHA-256', facts.sha256),
    row('Size', `${facts.bytes} bytes`),
    row('Format', `${facts.container}, ${facts.codec}, ${facts.pixelFormat}`),
    row('Storage', `${s.width} x ${s.height} px, pixel aspect ${s.pixelAspect.num}:${s.pixelAspect.den}`),
    row('Display', `${Math.round(displayWidth(s))} x ${s.height}, ${display.num}:${display.den}`),
  ];
  if (facts.kind === 'moving') {
    lines.push(row('Rate', `${s.rate.num}/${s.rate.den} (${ratio(s.rate).toFixed(3)} frames a second)`));
    lines.push(row('Duration', `${s.frames} frames, ${facts.duration.toFixed(3)} s`));
  }
  for (const t of facts.tracks) {
    const flags = [
      t.language || 'no language',
      t.channels ? `${t.channels} channels` : '',
      t.default ? 'default' : '',
      t.forced ? 'forced' : '',
      t.bitmap ? 'pictures' : '',
    ];
    lines.push(row(t.kind === 'sound' ? 'Sound' : 'Subtitles', `${t.codec}, ${flags.filter(Boolean).join(', ')}`));
  }
  const { pages, streams } = facts.holds ?? {};
  if (pages ?? streams) lines.push(row('Holds', pages ? `${pages.length} pages` : `${streams} picture streams`));
  for (const text of facts.damage) lines.push(row('Damage', text));
  for (const text of facts.notes) lines.push(row('Note', text));
  return lines.join('\n');
}

/** The condition report as a table for a terminal. */
export function conditionText(report: ConditionReport): string {
  return report.findings.map((f) => row(f.name, `${f.reading} (${f.detail})`)).join('\n');
}

/** A plan, step by step, with what each makes of the picture; branches are set in below their fork. */
export function planText(plan: Plan, source: StreamInfo): string {
  const layout = layOut(plan, source);
  const lines = (entries: PlanEntry[], from: LaidNode, indent: string): string[] => {
    let before = from;
    return entries.flatMap((entry) => {
      const input = before;
      if (entry.on) before = layout.nodes.get(entry.id) ?? before;
      if (isFork(entry))
        return [
          `${indent}${row('Fork', entry.on ? '' : 'off')}`.trimEnd(),
          ...entry.branches.flatMap((b) => [
            `${indent}  ${row(b.name, b.on ? `${b.opacity} %${b.mask ? ', masked' : ''}` : 'off')}`,
            ...lines(b.steps, input, `${indent}    `),
          ]),
        ];
      const kind = treatment(entry.treatment);
      if (!kind) return [];
      return [indent + row(kind.name, entry.on ? kind.summary(Object.assign(new kind.settings(), entry.settings), input.stream) : 'off')];
    });
  };
  return lines(plan.steps, layout.source, '').join('\n');
}
