/**
 * Why an answer is what it is: the facts behind a grade, a breach, a verdict.
 *
 * <p>May use: {@code evaluation} and what that rests on.
 */
package firth.core.explain;
