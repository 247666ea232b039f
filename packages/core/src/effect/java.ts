import type { EffectEntry } from './catalogue.js'
import type { EffectKind } from './kinds.js'

const all = (effect: EffectKind | 'pure', external: string, members: string): EffectEntry[] => members.split(' ').map(member => ({ match: `${external}#${member}`, effect }))
const packages = (effect: EffectKind | 'pure', names: string): EffectEntry[] => names.split(' ').map(match => ({ match, effect }))

/** What the JDK and common libraries touch, by package; members are `Class.member`. */
export const JAVA_EFFECTS: readonly EffectEntry[] = [
  ...packages('pure', 'java.lang java.lang.* java.math java.text java.text.* java.time java.time.* java.util java.util.function java.util.regex java.util.stream java.util.concurrent ' +
    'java.util.concurrent.atomic java.util.concurrent.locks java.util.random java.util.spi java.util.zip java.util.jar java.nio java.nio.charset java.nio.charset.* java.security java.security.* ' +
    'java.beans java.beans.* javax.crypto javax.crypto.* javax.annotation javax.annotation.* javax.xml.* org.w3c.dom org.w3c.dom.* org.xml.sax org.xml.sax.* javax.lang.model.* javax.annotation.processing'),
  // java.lang
  ...all('clock', 'java.lang', 'System.currentTimeMillis System.nanoTime'),
  ...all('environment', 'java.lang', 'System.getenv System.getProperty System.getProperties System.setProperty System.setProperties System.clearProperty System.console ModuleLayer Integer.getInteger Long.getLong Boolean.getBoolean'),
  ...all('console', 'java.lang', 'System.out System.err System.in System.setOut System.setErr System.setIn'),
  ...all('process', 'java.lang', 'System.exit System.gc System.load System.loadLibrary Runtime Process ProcessBuilder ProcessHandle Shutdown'),
  ...all('logging', 'java.lang', 'System.getLogger System.Logger Logger'),
  ...all('randomness', 'java.lang', 'Math.random StrictMath.random'),
  ...all('threads-and-timers', 'java.lang', 'Thread Thread() ThreadGroup Object.wait Object.notify Object.notifyAll'),
  ...all('pure', 'java.lang', 'Thread.currentThread Thread.interrupted Thread.isInterrupted Thread.interrupt Thread.getContextClassLoader Thread.getName Thread.getStackTrace'),
  // java.util
  ...all('randomness', 'java.util', 'Random() SplittableRandom() UUID.randomUUID Collections.shuffle'),
  ...all('clock', 'java.util', 'Date() GregorianCalendar() Calendar.getInstance'),
  ...all('environment', 'java.util', 'Locale.getDefault Locale.setDefault TimeZone.getDefault TimeZone.setDefault ServiceLoader ResourceBundle.getBundle'),
  ...all('threads-and-timers', 'java.util', 'Timer TimerTask'),
  ...all('randomness', 'java.util.concurrent', 'ThreadLocalRandom'),
  ...all('randomness', 'java.security', 'SecureRandom KeyPairGenerator.generateKeyPair'),
  ...all('threads-and-timers', 'java.util.concurrent', 'Executors ExecutorService ScheduledExecutorService ThreadPoolExecutor ScheduledThreadPoolExecutor ForkJoinPool CompletableFuture.runAsync ' +
    'CompletableFuture.supplyAsync CountDownLatch.await CyclicBarrier.await Semaphore.acquire TimeUnit.sleep'),
  ...packages('logging', 'java.util.logging'),
  ...packages('environment', 'java.util.prefs java.lang.management javax.management javax.management.*'),
  ...all('file-system', 'java.util.zip', 'ZipFile'),
  ...all('file-system', 'java.util.jar', 'JarFile'),
  // java.time: a clock that is asked by name is the machine's.
  ...all('clock', 'java.time', 'Clock.systemUTC Clock.systemDefaultZone Clock.system Clock.tickMillis Clock.tickSeconds Clock.tickMinutes Instant.now() LocalDate.now() LocalTime.now() LocalDateTime.now() ' +
    'ZonedDateTime.now() OffsetDateTime.now() OffsetTime.now() Year.now() YearMonth.now() MonthDay.now()'),
  ...all('environment', 'java.time', 'ZoneId.systemDefault'),
  // java.io and java.nio: streams only pass on what they are given; files are the disk's.
  ...packages('pure', 'java.io'),
  ...all('file-system', 'java.io', 'FileInputStream FileOutputStream FileReader FileWriter RandomAccessFile FileDescriptor File.exists File.delete File.deleteOnExit File.mkdir File.mkdirs File.createNewFile ' +
    'File.createTempFile File.list File.listFiles File.listRoots File.isFile File.isDirectory File.length File.lastModified File.setLastModified File.canRead File.canWrite File.canExecute File.setReadOnly ' +
    'File.setWritable File.setReadable File.setExecutable File.renameTo File.getCanonicalPath File.getCanonicalFile File.getTotalSpace File.getFreeSpace File.getUsableSpace'),
  ...all('console', 'java.io', 'Console'),
  ...packages('file-system', 'java.nio.file'),
  ...all('pure', 'java.nio.file', 'Path Paths OpenOption StandardOpenOption CopyOption StandardCopyOption LinkOption FileVisitResult InvalidPathException'),
  ...all('file-system', 'java.nio.file', 'Path.toRealPath Path.register'),
  ...packages('pure', 'java.nio.file.attribute java.nio.channels'),
  ...all('file-system', 'java.nio.channels', 'FileChannel AsynchronousFileChannel FileLock'),
  ...all('network', 'java.nio.channels', 'SocketChannel ServerSocketChannel DatagramChannel Selector AsynchronousSocketChannel AsynchronousServerSocketChannel'),
  // Network and mail.
  ...packages('network', 'java.net java.net.http java.rmi java.rmi.* javax.net javax.net.* javax.mail javax.mail.* jakarta.mail jakarta.mail.* javax.naming javax.naming.* javax.jms jakarta.jms javax.ws.rs.client jakarta.ws.rs.client'),
  ...all('pure', 'java.net', 'URI URL URLEncoder URLDecoder IDN URISyntaxException MalformedURLException HttpURLConnection.HTTP_OK InetSocketAddress StandardSocketOptions'),
  ...all('network', 'java.net', 'URL.openStream URL.openConnection URL.getContent'),
  ...all('pure', 'java.net.http', 'HttpRequest HttpResponse HttpHeaders BodyPublishers BodyHandlers Builder'),
  ...packages('network', 'okhttp3 okhttp3.* retrofit2 retrofit2.* org.apache.http org.apache.http.* org.apache.hc.* feign feign.* io.netty.* io.grpc io.grpc.* org.apache.kafka.* com.rabbitmq.* org.eclipse.paho.* ' +
    'software.amazon.awssdk.* com.amazonaws.* com.google.cloud.* com.azure.* com.jcraft.jsch org.apache.commons.net.* org.apache.commons.mail org.springframework.web.client org.springframework.web.reactive.function.client ' +
    'org.springframework.kafka.* org.springframework.amqp.* org.springframework.jms.* org.springframework.mail.*'),
  // Databases.
  ...packages('database', 'java.sql javax.sql javax.sql.* javax.persistence javax.persistence.* jakarta.persistence jakarta.persistence.* org.hibernate org.hibernate.* com.zaxxer.hikari org.apache.ibatis.* org.jooq org.jooq.* ' +
    'com.mongodb com.mongodb.* redis.clients.* io.lettuce.* org.springframework.jdbc.* org.springframework.data.* org.flywaydb.* liquibase.* org.jdbi.* com.datastax.* org.neo4j.* org.elasticsearch.* co.elastic.*'),
  ...all('pure', 'java.sql', 'Date Time Timestamp Types SQLException SQLType'),
  // Screens, printers, sound.
  ...packages('user-interface', 'java.awt java.awt.* javax.swing javax.swing.* javafx.* org.eclipse.swt.* android.* androidx.*'),
  ...packages('pure', 'java.awt.geom java.awt.color java.awt.font'),
  ...all('pure', 'java.awt', 'Color Dimension Point Rectangle Insets Polygon BasicStroke AlphaComposite'),
  ...packages('device', 'java.awt.print javax.print javax.print.* javax.sound.*'),
  // Logging.
  ...packages('logging', 'org.slf4j org.slf4j.* org.apache.logging.* org.apache.log4j org.apache.log4j.* org.apache.commons.logging ch.qos.logback.* org.jboss.logging lombok.extern.*'),
  // Frameworks that make and drive the classes that extend theirs.
  ...packages('framework', 'javax.servlet javax.servlet.* jakarta.servlet jakarta.servlet.* org.apache.wicket org.apache.wicket.* com.vaadin.* org.apache.struts.* com.opensymphony.xwork2 org.apache.camel org.apache.camel.* ' +
    'javax.faces.* jakarta.faces.* org.osgi.*').map((entry): EffectEntry => ({ ...entry, when: 'extended' })),
  ...packages('pure', 'javax.servlet javax.servlet.* jakarta.servlet jakarta.servlet.*').map((entry): EffectEntry => ({ ...entry, when: 'used' })),
  ...packages('pure', 'org.springframework.stereotype org.springframework.beans.* org.springframework.context.* org.springframework.core.* org.springframework.util org.springframework.web.bind.* org.springframework.http ' +
    'javax.inject jakarta.inject jakarta.annotation javax.validation javax.validation.* jakarta.validation jakarta.validation.* javax.ws.rs javax.ws.rs.core jakarta.ws.rs jakarta.ws.rs.core com.google.common.* ' +
    'org.apache.commons.lang3 org.apache.commons.lang3.* org.apache.commons.lang org.apache.commons.lang.* org.apache.commons.collections4 org.apache.commons.collections4.* org.apache.commons.codec org.apache.commons.codec.* ' +
    'org.apache.commons.math3.* org.apache.commons.text org.apache.commons.csv com.fasterxml.jackson.* com.google.gson com.google.gson.* org.json io.vavr io.vavr.* lombok lombok.* org.joda.time org.joda.time.* reactor.core.* io.reactivex.*'),
  ...packages('file-system', 'org.apache.commons.io com.google.common.io')
]
