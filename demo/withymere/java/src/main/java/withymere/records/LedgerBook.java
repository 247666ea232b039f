package withymere.records;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;

public class LedgerBook {
    private record Posting(String account, double amount, String reason) {
    }

    private final List<Posting> postings = new ArrayList<>();

    public void credit(String account, double amount, String reason) {
        post(account, amount, reason);
    }

    public void debit(String account, double amount, String reason) {
        post(account, -amount, reason);
    }

    public double balance(String account) {
        double sum = 0;
        for (Posting posting : postings) {
            if (posting.account().equals(account)) {
                sum += posting.amount();
            }
        }
        return Math.round(sum * 100) / 100.0;
    }

    public List<String> accounts() {
        TreeSet<String> names = new TreeSet<>();
        postings.forEach(posting -> names.add(posting.account()));
        return List.copyOf(names);
    }

    public String statement(String account) {
        StringBuilder text = new StringBuilder("Account ").append(account).append('\n');
        for (Posting posting : postings) {
            if (posting.account().equals(account)) {
                text.append(String.format("%10.2f  %s%n", posting.amount(), posting.reason()));
            }
        }
        return text.append(String.format("%10.2f  balance", balance(account))).toString();
    }

    private void post(String account, double amount, String reason) {
        if (Double.isNaN(amount) || Double.isInfinite(amount)) {
            throw new IllegalArgumentException("no amount: " + amount);
        }
        postings.add(new Posting(account, amount, reason));
        if (Math.abs(amount) > 500) {
            Logbook.warn("ledger", account + ": " + amount + " for " + reason);
        }
    }
}
