import type { Metadata } from 'next';
import { CollectionPlace } from '../../../ui/collection/collection';

export const metadata: Metadata = { title: 'Collection' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <CollectionPlace id={(await params).id} />;
}
