/** Who acts, until there are accounts. */
export const LOCAL_PERSON = 'local person';
