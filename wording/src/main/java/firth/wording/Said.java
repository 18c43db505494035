package firth.wording;

/**
 * A finding in words.
 *
 * @param title what is wrong, in a few words
 * @param text why, and what it costs, in a sentence or two
 * @param action what ends it soonest, and what that will not repair; empty where nothing does but waiting
 */
public record Said(String title, String text, String action) {}
