import type { Metadata } from 'next';
import { PeoplePlace } from '../../../ui/people/peoplePlace';

export const metadata: Metadata = { title: 'People' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <PeoplePlace id={(await params).id} />;
}
