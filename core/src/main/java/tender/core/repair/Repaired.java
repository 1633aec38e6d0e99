package tender.core.repair;

import java.util.List;

/** A repaired file with what was done to it; without repairs it is the file that came. */
public record Repaired(String text, List<Repair> repairs) {
    /**
     * One repair.
     *
     * @param line where it stood in the file that came, 0 for an added line
     * @param before lines as they were; empty for an addition
     * @param after lines as they are; empty where they went
     */
    public record Repair(RepairRule rule, int line, String before, String after) {}

    public Repaired {
        repairs = List.copyOf(repairs);
    }
}
