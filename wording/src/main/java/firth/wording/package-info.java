/**
 * Every sentence a person reads about computed things, made from typed values of the core: findings, ways out, proofs, readiness and
 * flaws of policies, and how figures are said in them. No arithmetic beyond rounding what is shown.
 *
 * <p>May use: {@code firth.core}.
 */
@NullMarked
package firth.wording;

import org.jspecify.annotations.NullMarked;
