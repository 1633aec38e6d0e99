package tender.core.trial;

/** Why a rung fails: a stable code, how sure, in words, and what to do. Carries no secret. */
public record Cause(String code, Certainty certainty, String what, String remedy) {}
