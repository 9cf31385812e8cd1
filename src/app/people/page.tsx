import type { Metadata } from 'next';
import { PeopleCollections } from '../../ui/people/peopleCollections';

export const metadata: Metadata = { title: 'People' };

export default function Page() {
  return <PeopleCollections />;
}
