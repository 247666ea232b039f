package withymere.tolls;

import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

import withymere.records.Logbook;

/** What the owner of one or more craft owes the trust. */
public class Account {
    private record Entry(LocalDate day, String text, double amount) {
    }

    private final List<Entry> entries = new ArrayList<>();
    private final Set<String> craft = new HashSet<>();
    private final String number;
    private final Path folder;
    private int nextReceipt = 1;
    private double limit = 200;

    public Account(String number, Path folder) {
        this.number = number;
        this.folder = folder;
    }

    public void addCraft(String name) {
        craft.add(name);
    }

    public boolean owns(String name) {
        return craft.contains(name);
    }

    public void setLimit(double amount) {
        if (amount < 0) {
            throw new IllegalArgumentException("a limit is not below zero");
        }
        limit = amount;
    }

    public void charge(String name, String text, double amount) {
        if (!craft.contains(name)) {
            throw new IllegalArgumentException(name + " is not on account " + number);
        }
        if (balance() + amount > limit) {
            Logbook.warn("account", number + " is over its limit");
            throw new IllegalStateException("account " + number + " is over its limit of " + limit);
        }
        enter(name + ": " + text, amount);
    }

    public Path pay(double amount) {
        if (amount <= 0) {
            throw new IllegalArgumentException("a payment is more than nothing");
        }
        enter("paid", -amount);
        Receipt receipt = new Receipt(nextReceipt++, folder);
        receipt.add("Account " + number, amount);
        return receipt.store();
    }

    public double balance() {
        return Math.round(entries.stream().mapToDouble(Entry::amount).sum() * 100) / 100.0;
    }

    /** Everything since a day, with what was owed before it. */
    public List<String> statement(LocalDate since) {
        double sum = entries.stream().filter(entry -> entry.day().isBefore(since)).mapToDouble(Entry::amount).sum();
        List<String> lines = new ArrayList<>(List.of("Account " + number, String.format("brought forward %.2f", sum)));
        for (Entry entry : entries) {
            if (!entry.day().isBefore(since)) {
                sum += entry.amount();
                lines.add(String.format("%s %-24s %8.2f %8.2f", entry.day(), entry.text(), entry.amount(), sum));
            }
        }
        return lines;
    }

    private void enter(String text, double amount) {
        entries.add(new Entry(LocalDate.now(), text, amount));
        Logbook.write("account", number + " " + text + " " + amount);
    }
}
