const words: Record<string, string> = { dry_or_maker: 'dry, unless their maker says otherwise' };

/** The state in which a procedure wants threads, in words. */
export const conditionWords = (condition: string) => words[condition] ?? condition;
