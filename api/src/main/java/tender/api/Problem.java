package tender.api;

/** A failed call (RFC 9457): {@code detail} says what happened to what, {@code place} which field or line, {@code remedy} what to do. */
public record Problem(String type, String title, int status, String code, String detail, String place, String remedy) {
    public static Problem of(ProblemCode code, String detail, String place) {
        return new Problem(
                "urn:tender:problem:" + code.word(),
                code.title(),
                code.status(),
                code.word(),
                detail,
                place,
                code.remedy());
    }
}
