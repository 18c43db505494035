package firth.server.platform;

/** An error as a person needs it: what happened, what is unharmed, what to do. */
public record Problem(String what, String unharmed, String remedy) {}
