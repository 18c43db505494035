package firth.core.model;

/** What a store is for in a policy's retention: near for quick restores, far for the loss of a site, deep for years. */
public enum Role implements Worded {
    NEAR,
    FAR,
    DEEP;
}
