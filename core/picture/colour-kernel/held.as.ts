/** Room behind the curves for numbers that are needed again and again. */
export const HELD: usize = 4096;

/** A vector that is read where it is needed: a constant one would be put together anew, by four instructions each time. */
@inline
export function held(vector: v128, at: usize): v128 {
  v128.store(HELD + at, vector);
  return v128.load(HELD + at);
}
