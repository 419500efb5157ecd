const named = (name: string): string => `?name=${encodeURIComponent(name)}`;

/** Where the server is asked for what; the same addresses are the keys under which answers are kept. */
export const paths = {
  jobs: '/api/jobs',
  job: (job: string) => `/api/jobs/${job}`,
  jobsBin: '/api/bin',
  jobBin: (job: string) => `/api/jobs/${job}/bin`,
  /** `again`: also where the job holds the very same bytes already. */
  /** `given`: how the file is to be read, and its unit, where a person said so before it was sent. */
  jobDrawings: (job: string, fileName: string, again = false, given: Readonly<Record<string, string>> = {}) =>
    `/api/jobs/${job}/drawings${named(fileName)}${again ? '&again=yes' : ''}${Object.entries(given)
      .map(([k, v]) => `&${k}=${v}`)
      .join('')}`,
  jobPictures: (job: string, fileName?: string) =>
    `/api/jobs/${job}/pictures${fileName === undefined ? '' : named(fileName)}`,
  jobFonts: (job: string, fileName?: string) =>
    `/api/jobs/${job}/fonts${fileName === undefined ? '' : named(fileName)}`,
  jobParts: (job: string) => `/api/jobs/${job}/parts`,
  fontChart: (job: string) => `/api/jobs/${job}/font-chart`,
  drawing: (drawing: string) => `/api/drawings/${drawing}`,
  drawingSeen: (drawing: string) => `/api/drawings/${drawing}/seen`,
  drawingSource: (drawing: string) => `/api/drawings/${drawing}/source`,
  drawingPages: (drawing: string) => `/api/drawings/${drawing}/pages`,
  drawingPicture: (drawing: string) => `/api/drawings/${drawing}/picture`,
  revisions: (drawing: string, fileName?: string) =>
    `/api/drawings/${drawing}/revisions${fileName === undefined ? '' : named(fileName)}`,
  revisionSource: (drawing: string, revision: string | number) =>
    `/api/drawings/${drawing}/revisions/${revision}/source`,
  deliveries: (drawing: string) => `/api/drawings/${drawing}/deliveries`,
  trial: (drawing: string) => `/api/drawings/${drawing}/trial`,
  forecast: (drawing: string) => `/api/drawings/${drawing}/forecast`,
  delivery: (delivery: string) => `/api/deliveries/${delivery}`,
  deliveryFile: (delivery: string) => `/api/deliveries/${delivery}/file`,
  deliveryEvents: (delivery: string) => `/api/deliveries/${delivery}/events`,
  cancelDelivery: (delivery: string) => `/api/deliveries/${delivery}/cancel`,
  proofs: (delivery: string) => `/api/deliveries/${delivery}/proofs`,
  font: (font: string) => `/api/fonts/${font}`,
  fontFile: (font: string) => `/api/fonts/${font}/file`,
  recipes: '/api/recipes',
  allDrawings: '/api/drawings',
  characterMap: (name: string) => `/api/character-maps/${name}`,
  recipe: (recipe: string) => `/api/recipes/${recipe}`,
  recipeAlone: (recipe: string) => `/api/recipes/${recipe}/alone`,
  recipeFile: (recipe: string) => `/api/recipes/${recipe}/file`,
  recipeOf: (drawing: string) => `/api/drawings/${drawing}/recipe`,
  setPlan: (job: string) => `/api/jobs/${job}/sets/plan`,
  corrections: (job: string) => `/api/jobs/${job}/corrections`,
  correctionsPage: (job: string) => `/api/jobs/${job}/corrections/page`,
  correctionsTable: (job: string) => `/api/jobs/${job}/corrections/table`,
  tracker: (job: string) => `/api/jobs/${job}/tracker`,
  sets: (job: string) => `/api/jobs/${job}/sets`,
  set: (set: string) => `/api/sets/${set}`,
  setAgain: (set: string) => `/api/sets/${set}/again`,
  setArchive: (set: string) => `/api/sets/${set}/archive`,
  setManifest: (set: string, form: 'json' | 'csv') => `/api/sets/${set}/manifest-${form}`,
  setReport: (set: string) => `/api/sets/${set}/report`,
  returned: (delivery: string, fileName: string) => `/api/deliveries/${delivery}/returned${named(fileName)}`,
  /** `place`: in the list of the files beside it, from 0 on. */
  deliveryBeside: (delivery: string, place: number) => `/api/deliveries/${delivery}/beside/${place + 1}`,
  deliveryPicture: (delivery: string) => `/api/deliveries/${delivery}/picture`,
  deliveryReport: (delivery: string) => `/api/deliveries/${delivery}/report`,
  picture: (picture: string) => `/api/pictures/${picture}`,
  pictureDrawing: (picture: string) => `/api/pictures/${picture}/drawing`,
  pictureFile: (picture: string) => `/api/pictures/${picture}/file`,
} as const;
