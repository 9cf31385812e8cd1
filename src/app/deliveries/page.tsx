import type { Metadata } from 'next';
import { Deliveries } from '../../ui/deliveries/deliveries';

export const metadata: Metadata = { title: 'Deliveries' };

export default function Page() {
  return <Deliveries />;
}
