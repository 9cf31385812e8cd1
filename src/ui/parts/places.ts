/** The places of the application, as they stand in its bar. */
export const PLACES = [
  { href: '/', name: 'Collections' },
  { href: '/people', name: 'People' },
  { href: '/queue', name: 'Queue' },
  { href: '/deliveries', name: 'Deliveries' },
  { href: '/templates', name: 'Templates' },
];
