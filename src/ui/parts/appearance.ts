import { create } from 'zustand';

export type Theme = 'light' | 'dark';
/** Greys round the picture; none is tinted. */
export type Surround = 'dark' | 'middle' | 'light';

interface Appearance {
  theme: Theme;
  surround: Surround;
}

/** How the application looks on this machine; remembered by the browser. */
export const useAppearance = create<Appearance>()(() => ({ theme: 'light', surround: 'middle' }));

const SURROUNDS: Surround[] = ['dark', 'middle', 'light'];

function show(): void {
  const { theme, surround } = useAppearance.getState();
  Object.assign(document.documentElement.dataset, { theme, surround });
}

/** Takes up what was chosen before; as the system prefers where nothing was. */
export function recallAppearance(): void {
  const theme = localStorage.getItem('theme') ?? (window.matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light');
  const surround = SURROUNDS.find((s) => s === localStorage.getItem('surround')) ?? 'middle';
  useAppearance.setState({ theme: theme === 'dark' ? 'dark' : 'light', surround });
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
