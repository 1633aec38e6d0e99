package tender.client.command;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.UnaryOperator;

/**
 * Columns as wide as their contents, as far as they fit the line: the widest are cut first; the first one, by which a row is named,
 * never. What does not fit is in {@code show} and {@code --json}.
 */
final class Table {
    private static final int GAP = 2;
    private static final int NARROWEST = 6;

    private Table() {}

    /** @param heading how a column's head is shown */
    static List<String> lines(List<String> heads, List<List<String>> rows, int width, UnaryOperator<String> heading) {
        int[] widths = new int[heads.size()];
        for (int c = 0; c < widths.length; c++) {
            widths[c] = heads.get(c).length();
            for (List<String> row : rows) {
                widths[c] = Math.max(widths[c], row.get(c).length());
            }
        }
        fit(widths, width);
        List<String> out = new ArrayList<>();
        out.add(line(heads, widths, heading));
        rows.forEach(row -> out.add(line(row, widths, UnaryOperator.identity())));
        return out;
    }

    private static void fit(int[] widths, int width) {
        for (int over = Arrays.stream(widths).sum() + GAP * (widths.length - 1) - width; over > 0; over--) {
            int widest = 1;
            for (int c = 2; c < widths.length; c++) {
                widest = widths[c] > widths[widest] ? c : widest;
            }
            if (widths.length < 2 || widths[widest] <= NARROWEST) {
                return;
            }
            widths[widest]--;
        }
    }

    private static String line(List<String> cells, int[] widths, UnaryOperator<String> shown) {
        StringBuilder text = new StringBuilder();
        for (int c = 0; c < widths.length; c++) {
            String cell = cells.get(c);
            if (cell.length() > widths[c]) {
                cell = cell.substring(0, widths[c] - 1) + "…";
            }
            text.append(cell.isEmpty() ? cell : shown.apply(cell)).append(" ".repeat(widths[c] - cell.length() + GAP));
        }
        return text.toString().stripTrailing();
    }
}
