package tender.core.wire;

/** Something wrong in a file: the line (from 1), a stable code, and what is wrong; never the value itself. */
public record ParseProblem(int line, String code, String what) {
    @Override
    public String toString() {
        return line == 0 ? what : "line " + line + ": " + what;
    }
}
