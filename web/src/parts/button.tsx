import type { ButtonHTMLAttributes } from 'react';

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** `main` is the one thing a place is for; `quiet` has no border. */
  look?: 'main' | 'plain' | 'quiet';
}

const LOOKS = {
  main: 'border border-ink bg-ink text-paper hover:bg-act hover:border-act',
  plain: 'border border-ink/60 hover:bg-wash',
  quiet: 'text-act underline-offset-2 hover:underline',
};

export function Button({ look = 'plain', className = '', type = 'button', ...rest }: Props) {
  const pad = look === 'quiet' ? 'px-0.5' : 'px-3 py-1';
  return (
    <button
      type={type}
      className={`${pad} ${LOOKS[look]} inline-flex items-center gap-1.5 disabled:cursor-not-allowed disabled:opacity-50 ${className}`}
      {...rest}
    />
  );
}
