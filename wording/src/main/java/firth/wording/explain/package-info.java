/**
 * Why an answer is what it is: the sentence, the facts it rests on and the rule, from one evaluation. Nothing is computed anew.
 *
 * <p>May use: {@code firth.core}.
 */
@NullMarked
package firth.wording.explain;

import org.jspecify.annotations.NullMarked;
