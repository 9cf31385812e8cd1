import type { Metadata } from 'next';
import { PeopleCollections } from '../../ui/people/people';

export const metadata: Metadata = { title: 'People' };

export default function Page() {
  return <PeopleCollections />;
}
