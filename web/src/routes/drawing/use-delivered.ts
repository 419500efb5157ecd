import { useEffect, useRef, useState } from 'react';
import * as Comlink from 'comlink';
import type { Scene } from '@scalaria/core';
import { getBytes } from '../../api/client';
import { paths } from '../../api/paths';
import type { DeliveredScenes } from '../../workers/scenes';
import type { DeliveryDetail } from '../../api/types';
import type { DrawingState } from './drawing-context';

/** What a delivered file shows, read back in the worker; `copy` stands in for its bytes. */
export function useDelivered(
  worker: DrawingState['worker'],
  delivery: DeliveryDetail | undefined,
  copy: ArrayBuffer | null,
  ready: boolean,
): { delivered: Scene | null; against: Scene | null; fault: string | null } {
  const [delivered, setDelivered] = useState<DeliveredScenes | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [id, fileName] = [delivery?.id, delivery?.fileName];
  // A delivery never changes what it was asked to be: the rows that are fetched again hold the same.
  const target = useRef(delivery?.target);
  target.current = delivery?.target;
  useEffect(() => {
    // A prepared scene must be there first: the worker scales the file to its unit.
    if (!worker || !id || !fileName || !ready) return;
    let live = true;
    setDelivered(null);
    setFault(null);
    const load = async (): Promise<void> => {
      const bytes = copy ? copy.slice(0) : await getBytes(paths.deliveryFile(id));
      const scene = await worker.deliveredScene(Comlink.transfer(bytes, [bytes]), fileName, target.current!);
      if (live) setDelivered(scene);
    };
    load().catch((e: unknown) => live && setFault(e instanceof Error ? e.message : String(e)));
    return () => {
      live = false;
    };
  }, [worker, id, fileName, copy, ready]);
  return { delivered: delivered?.scene ?? null, against: delivered?.against ?? null, fault };
}
