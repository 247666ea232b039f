package withymere.locks;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

import withymere.records.Logbook;

/** What is to be done at the locks, and when there are hands for it. */
public class MaintenancePlan {
    public enum JobKind {
        GREASE(1, 1), PADDLE(4, 3), GATE(16, 4), DREDGE(24, 2);

        private final int hours;
        private final int urgency;

        JobKind(int hours, int urgency) {
            this.hours = hours;
            this.urgency = urgency;
        }
    }

    public record Job(String lock, JobKind kind) {
    }

    private final List<Job> jobs = new ArrayList<>();
    private final Map<String, Integer> passages = new HashMap<>();

    public Job report(String lock, JobKind kind) {
        Job job = new Job(lock, kind);
        if (!jobs.contains(job)) {
            jobs.add(job);
            Logbook.write("maintenance", kind + " at " + lock);
        }
        return job;
    }

    /** Counts a passage; hinges want grease after two hundred of them. */
    public void count(String lock) {
        if (passages.merge(lock, 1, Integer::sum) % 200 == 0) {
            report(lock, JobKind.GREASE);
        }
    }

    public void finish(String lock, JobKind kind) {
        if (!jobs.remove(new Job(lock, kind))) {
            throw new IllegalStateException("nothing to do at " + lock + ": " + kind);
        }
        Logbook.write("maintenance", kind + " at " + lock + " done");
    }

    public List<Job> open() {
        return jobs.stream().sorted(Comparator.comparingDouble(this::urgency).reversed().thenComparing(Job::lock)).toList();
    }

    /** The jobs that fit into a day, the most urgent first. */
    public List<Job> day(int hands) {
        int left = hands * 8;
        List<Job> fitting = new ArrayList<>();
        for (Job job : open()) {
            if (job.kind().hours <= left) {
                left -= job.kind().hours;
                fitting.add(job);
            }
        }
        return fitting;
    }

    /** What the crew reads before it goes out to a lock. */
    public String crewNote(Lock lock) {
        Lock above = lock.above();
        String water = lock.isFull() ? "full, " + lock.volume() + " m3 to drain" : "empty";
        return "lock " + lock.number() + ", " + lock.chamber().length() + " m, " + water + (above == null ? "" : ", below lock " + above.number());
    }

    private double urgency(Job job) {
        return job.kind().urgency + Math.min(1, passages.getOrDefault(job.lock(), 0) / 1000.0);
    }
}
