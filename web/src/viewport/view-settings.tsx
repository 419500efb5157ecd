import type { ReactNode } from 'react';
import { createContext, useContext, useEffect, useMemo, useState } from 'react';
import { useAction } from '../parts/actions';
import type { Ink } from './shaders';
import { INKS } from './shaders';

interface Settings {
  ink: Ink;
  weights: boolean;
}
interface State extends Settings {
  set: (s: Partial<Settings>) => void;
}

const Context = createContext<State>({ ink: 'legible', weights: true, set: () => {} });

/** What the inks are called. */
export const INK_WORDS: Record<Ink, string> = {
  legible: 'Colours, legible',
  true: 'Colours as they are',
  ink: 'Ink only',
};

function kept(): Settings {
  try {
    const given = JSON.parse(localStorage.getItem('view') ?? '{}') as Partial<Settings>;
    return { ink: INKS.includes(given.ink!) ? given.ink! : 'legible', weights: given.weights !== false };
  } catch {
    return { ink: 'legible', weights: true };
  }
}

/** How drawings are shown, kept in the browser. */
export function ViewSettingsProvider({ children }: { children: ReactNode }) {
  const [settings, setSettings] = useState<Settings>(kept);
  useEffect(() => localStorage.setItem('view', JSON.stringify(settings)), [settings]);
  const value = useMemo(
    () => ({ ...settings, set: (s: Partial<Settings>) => setSettings((old) => ({ ...old, ...s })) }),
    [settings],
  );
  useAction(settings.weights ? 'Show all lines as hairlines' : 'Show lines as wide as they are', 'l', () =>
    value.set({ weights: !settings.weights }),
  );
  const next = INKS[(INKS.indexOf(settings.ink) + 1) % INKS.length]!;
  useAction(`Show: ${INK_WORDS[next].toLowerCase()}`, 'k', () => value.set({ ink: next }));
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export const useViewSettings = (): State => useContext(Context);
