import type { Metadata } from 'next';
import { BenchPlace } from '../../../ui/bench/benchPlace';

export const metadata: Metadata = { title: 'Bench' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  return <BenchPlace id={(await params).id} />;
}
