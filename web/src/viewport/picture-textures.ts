import * as THREE from 'three';
import { bytesOfAddress } from '@scalaria/core';

/** Pictures that are kept ready for the card, the last used at the end. */
const MOST_KEPT = 24;
/** Larger pictures are shown with fewer pixels: cards take no more along a side. */
const MOST_PIXELS = 4096;
const SHOWN = /^image\/(png|jpe?g|webp|gif|bmp)$/;

/** Where it lies is worked out for the pixels as they are stored, whatever it says of being shown turned. */
const AS_STORED = { premultiplyAlpha: 'none', imageOrientation: 'none' } as const;

interface Entry {
  /** `null` while it is decoded, and for good where that fails. */
  texture: THREE.Texture | null;
  ready: Promise<void>;
}

const kept = new Map<string, Entry>();

async function decode(data: string): Promise<THREE.Texture | null> {
  const held = bytesOfAddress(data);
  if (!held || !SHOWN.test(held.media)) return null;
  let bitmap = await createImageBitmap(new Blob([held.bytes], { type: held.media }), AS_STORED);
  const most = Math.max(bitmap.width, bitmap.height);
  if (most > MOST_PIXELS) {
    const k = MOST_PIXELS / most;
    const smaller = {
      resizeWidth: Math.max(1, Math.round(bitmap.width * k)),
      resizeHeight: Math.max(1, Math.round(bitmap.height * k)),
    };
    const whole = bitmap;
    bitmap = await createImageBitmap(whole, { ...smaller, resizeQuality: 'high', ...AS_STORED });
    whole.close();
  }
  const texture = new THREE.Texture(bitmap);
  texture.flipY = false;
  texture.colorSpace = THREE.NoColorSpace;
  texture.minFilter = THREE.LinearMipmapLinearFilter;
  texture.needsUpdate = true;
  return texture;
}

/** The texture of a picture at a `data:` address; `null` while it is decoded, after which `onReady` is called. */
export function textureOf(data: string, onReady: () => void): THREE.Texture | null {
  let entry = kept.get(data);
  if (!entry) {
    const made: Entry = { texture: null, ready: Promise.resolve() };
    // What cannot be decoded stays out of sight: its frame is found all the same.
    made.ready = decode(data).then(
      (t) => void (made.texture = t),
      () => {},
    );
    entry = made;
  }
  kept.delete(data);
  kept.set(data, entry);
  for (const [key, old] of kept) {
    if (kept.size <= MOST_KEPT) break;
    kept.delete(key);
    old.texture?.dispose();
  }
  if (!entry.texture) void entry.ready.then(onReady);
  return entry.texture;
}
