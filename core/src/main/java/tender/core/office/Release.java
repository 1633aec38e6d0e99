package tender.core.office;

/** Releases as devices write them: numbers and words parted by dots, hyphens and the like. */
public final class Release {
    private Release() {}

    /** Compares part by part; numbers by value, so that 3.10 comes after 3.9; a missing part counts as 0. */
    public static int compare(String one, String other) {
        String[] a = one.split("[^0-9A-Za-z]+");
        String[] b = other.split("[^0-9A-Za-z]+");
        for (int i = 0; i < Math.max(a.length, b.length); i++) {
            int parts = part(i < a.length ? a[i] : "0", i < b.length ? b[i] : "0");
            if (parts != 0) {
                return parts;
            }
        }
        return 0;
    }

    private static int part(String a, String b) {
        boolean numbers = a.matches("[0-9]{1,9}") && b.matches("[0-9]{1,9}");
        return numbers ? Integer.compare(Integer.parseInt(a), Integer.parseInt(b)) : a.compareToIgnoreCase(b);
    }
}
