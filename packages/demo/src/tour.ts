/** Five places of the demo that show what the rest is for; the Desk leads there. */
export const TOUR = [
  {
    title: 'Decide what came in',
    why: 'each report with what is known of it already; a digit accepts it at that severity',
    path: '/triage',
  },
  {
    title: 'A runtime error that opened its own defect',
    why: 'who is hit, what is unusual about it, and which commit may have brought it in',
    path: '/faults/fault~F-3',
  },
  {
    title: 'A change beside its reason',
    why: 'item and requirement first, then the lines, and what must hold before it may go to main',
    path: '/code/pull-request~kiln-controller,14/review~kiln-controller,14',
  },
  {
    title: 'What production got',
    why: 'a release by its items and requirements, and how it does since',
    path: '/releases/release~kiln-controller@4.1.3',
  },
  {
    title: 'The thread of one requirement',
    why: 'from the sentence that asked for it to the release that runs, with what is missing',
    path: '/trace/thread~requirement%3ASAF-3',
  },
] as const
