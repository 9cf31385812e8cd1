import { renderSegment } from './segment';

/** Entry of a render thread: one piece at a time. */
export default renderSegment;
