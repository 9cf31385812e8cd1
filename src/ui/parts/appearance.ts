import { create } from 'zustand';

export type Theme = 'light' | 'dark';
/** Greys round the picture; none is tinted. */
export type Surround = 'dark' | 'middle' | 'light';

/** How masks are shown on the picture. */
export type TintShown = 'tint' | 'mask' | 'none';

interface Appearance {
  theme: Theme;
  surround: Surround;
  tintShown: TintShown;
  /** #rrggbb, and percent. */
  tintColour: string;
  tintStrength: number;
}

/** How the application looks on this machine; remembered by the browser. */
export const useAppearance = create<Appearance>()(() => ({
  theme: 'light',
  surround: 'middle',
  tintShown: 'tint',
  tintColour: '#2f9c94',
  tintStrength: 50,
}));

const TINTS: TintShown[] = ['tint', 'mask', 'none'];
const SURROUNDS: Surround[] = ['dark', 'middle', 'light'];

function show(): void {
  const { theme, surround } = useAppearance.getState();
  Object.assign(document.documentElement.dataset, { theme, surround });
}

/** Takes up what was chosen before; as the system prefers where nothing was. */
export function recallAppearance(): void {
  const theme = localStorage.getItem('theme') ?? (window.matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light');
  const surround = SURROUNDS.find((s) => s === localStorage.getItem('surround')) ?? 'middle';
  const tint = TINTS.find((t) => t === localStorage.getItem('tintShown')) ?? 'tint';
  const colour = localStorage.getItem('tintColour') ?? '';
  const strength = Number(localStorage.getItem('tintStrength'));
  useAppearance.setState({
    theme: theme === 'dark' ? 'dark' : 'light',
    surround,
    tintShown: tint,
    ...(/^#[0-9a-f]{6}$/i.test(colour) && { tintColour: colour }),
    ...(strength >= 10 && strength <= 90 && { tintStrength: strength }),
  });
  show();
}

export function switchTheme(): void {
  const theme = useAppearance.getState().theme === 'dark' ? 'light' : 'dark';
  localStorage.setItem('theme', theme);
  useAppearance.setState({ theme });
  show();
}

/** The next grey round the picture. */
export function nextSurround(): void {
  const { surround: now } = useAppearance.getState();
  const surround = SURROUNDS[(SURROUNDS.indexOf(now) + 1) % SURROUNDS.length];
  localStorage.setItem('surround', surround);
  useAppearance.setState({ surround });
  show();
}

/** Shows masks another way, from now on. */
export function changeTint(change: Partial<Pick<Appearance, 'tintShown' | 'tintColour' | 'tintStrength'>>): void {
  for (const [name, value] of Object.entries(change)) localStorage.setItem(name, String(value));
  useAppearance.setState(change);
}
