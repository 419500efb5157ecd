import type { SWRConfiguration, SWRResponse } from 'swr';
import useSWR from 'swr';
import { paths } from './paths';
import type {
  Bin,
  CorrectionRow,
  DeliveryDetail,
  DeliveryRow,
  DrawingDetail,
  Job,
  JobFonts,
  JobParts,
  JobWithDrawings,
  JobPictures,
  JobTracker,
  RecipeRow,
  RevisionRow,
  SetDetail,
  SetRow,
} from './types';

/** What is asked of the server again and again; `null` asks for nothing yet. */
const useAsk = <T>(path: string | null, options?: SWRConfiguration<T>): SWRResponse<T> => useSWR<T>(path, options);

export const useJobs = (): SWRResponse<Job[]> => useAsk(paths.jobs);
/** A job with its drawings. */
export const useJob = (job: string | null): SWRResponse<JobWithDrawings> => useAsk(job && paths.job(job));
/** What was deleted of a job; of all jobs, the jobs themselves. */
export const useBin = (job: string): SWRResponse<Bin> => useAsk(paths.jobBin(job));
export const useDeletedJobs = (): SWRResponse<Job[]> => useAsk(paths.jobsBin);
/** Asked again and again: whether another window changed the drawing. */
export const useSeen = (drawing: string): SWRResponse<{ seen: number; revision: number; deleted: boolean }> =>
  useAsk(paths.drawingSeen(drawing), { refreshInterval: 4000, dedupingInterval: 1000 });
export const useFontsOf = (job: string | null): SWRResponse<JobFonts> => useAsk(job && paths.jobFonts(job));
export const usePicturesOf = (job: string | null): SWRResponse<JobPictures> => useAsk(job && paths.jobPictures(job));
/** The parts of a job; asked again while some are being found. */
export const useJobParts = (job: string | null): SWRResponse<JobParts> =>
  useAsk(job && paths.jobParts(job), {
    refreshInterval: (latest) => (latest?.drawings.some((d) => d.state === 'working') ? 700 : 0),
    dedupingInterval: 300,
    revalidateOnFocus: true,
  });
export const useDrawingDetail = (
  drawing: string | null,
  options?: SWRConfiguration<DrawingDetail>,
): SWRResponse<DrawingDetail> => useAsk(drawing && paths.drawing(drawing), options);
export const useRevisions = (drawing: string): SWRResponse<RevisionRow[]> => useAsk(paths.revisions(drawing));
export const useDeliveries = (drawing: string): SWRResponse<DeliveryRow[]> => useAsk(paths.deliveries(drawing));
export const useDelivery = (delivery: string | null): SWRResponse<DeliveryDetail> =>
  useAsk(delivery && paths.delivery(delivery));
export const useCorrections = (job: string): SWRResponse<CorrectionRow[]> =>
  useAsk(paths.corrections(job), { revalidateOnFocus: true });
export const useTracker = (job: string): SWRResponse<JobTracker> =>
  useAsk(paths.tracker(job), { revalidateOnFocus: true });
export const useRecipes = (): SWRResponse<RecipeRow[]> => useAsk(paths.recipes);
/** The sets of a job; asked again while one is being written. */
export const useSets = (job: string): SWRResponse<SetRow[]> =>
  useAsk(paths.sets(job), { refreshInterval: (latest) => (latest?.some((s) => s.state === 'working') ? 800 : 0) });
export const useSet = (set: string): SWRResponse<SetDetail> =>
  useAsk(paths.set(set), {
    refreshInterval: (latest) => (latest?.state === 'working' ? 500 : 0),
    dedupingInterval: 200,
    revalidateOnFocus: true,
  });
/** The drawings of all jobs, for recipes, which belong to none. */
export const useAllDrawings = (): SWRResponse<{ id: string; name: string; job: string; drafting: boolean }[]> =>
  useAsk(paths.allDrawings);
