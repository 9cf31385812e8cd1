import { peopleIn } from '../../../../../render';
import { handler } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Who is in an item's picture; asking looks for them. */
export const GET = handler<ItemContext>(async (_request, context) => Response.json(await peopleIn(await itemOf(context))));
