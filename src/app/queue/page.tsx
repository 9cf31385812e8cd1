import type { Metadata } from 'next';
import { Queue } from '../../ui/queue/queue';

export const metadata: Metadata = { title: 'Queue' };

export default function Page() {
  return <Queue />;
}
