import type { Metadata } from 'next';
import { TemplatesPlace } from '../../ui/templates/templates';

export const metadata: Metadata = { title: 'Templates' };

export default function Page() {
  return <TemplatesPlace />;
}
