import { useContext } from 'react';
import { GroundName } from './ground';

/** A small picture of a drawing, on the ground at hand. */
export function Thumbnail({ src }: { src: string }) {
  const night = useContext(GroundName) === 'night';
  return (
    <img src={`${src}${night ? '?ground=night' : ''}`} alt="" loading="lazy" className="h-full w-full object-contain" />
  );
}
