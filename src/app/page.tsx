import { Collections } from '../ui/collections/collections';

export default function Page() {
  return <Collections />;
}
