/** The shop-wide places beside the jobs. */
export const places = [
  { to: '/', name: 'Jobs' },
  { to: '/bench', name: 'Bench' },
  { to: '/rack', name: 'Rack' },
  { to: '/stock', name: 'Stock' },
  { to: '/practice', name: 'House practice' },
]
