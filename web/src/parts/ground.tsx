import type { ReactNode } from 'react';
import { createContext, useContext, useEffect, useMemo, useState } from 'react';
import { Moon, Sun } from 'lucide-react';
import { useAction } from './actions';
import type { Ground } from '../viewport/renderer';

type Name = 'paper' | 'night';

/** The same as in `theme.css`. */
const GROUNDS: Record<Name, Ground> = {
  paper: {
    name: 'paper',
    ink: rgb('#1d2530'),
    paper: rgb('#fbf8f1'),
    tints: { first: rgb('#c2521f'), second: rgb('#1a5470'), common: rgb('#99948a') },
  },
  night: {
    name: 'night',
    ink: rgb('#f0e6d2'),
    paper: rgb('#28211a'),
    tints: { first: rgb('#f08a55'), second: rgb('#86c6df'), common: rgb('#857b6a') },
  },
};

function rgb(hex: string): [number, number, number] {
  const n = parseInt(hex.slice(1), 16);
  return [(n >> 16) / 255, ((n >> 8) & 255) / 255, (n & 255) / 255];
}

/** The ground at hand, by name. */
export const GroundName = createContext<Name>('paper');

const Context = createContext<{ name: Name; turn: () => void }>({ name: 'paper', turn: () => {} });

/** Paper or night ground for the whole application, kept in the browser. */
export function GroundProvider({ children }: { children: ReactNode }) {
  const [name, setName] = useState<Name>(() => (localStorage.getItem('ground') === 'night' ? 'night' : 'paper'));
  useEffect(() => {
    document.documentElement.dataset['ground'] = name;
    localStorage.setItem('ground', name);
  }, [name]);
  const value = useMemo(() => ({ name, turn: () => setName((n) => (n === 'paper' ? 'night' : 'paper')) }), [name]);
  return (
    <Context.Provider value={value}>
      <GroundName.Provider value={name}>{children}</GroundName.Provider>
    </Context.Provider>
  );
}

/** The colours the viewport draws with. */
export const useGround = (): Ground => GROUNDS[useContext(Context).name];

export function GroundSwitch() {
  const { name, turn } = useContext(Context);
  const words = name === 'paper' ? 'Night ground' : 'Paper ground';
  useAction(words, 'n', turn);
  return (
    <button type="button" className="p-1.5 hover:bg-wash" onClick={turn} aria-label={words} title={words}>
      {name === 'paper' ? <Moon size={16} aria-hidden /> : <Sun size={16} aria-hidden />}
    </button>
  );
}
