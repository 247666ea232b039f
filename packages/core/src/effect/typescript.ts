import type { EffectEntry } from './catalogue.js'
import type { EffectKind } from './kinds.js'

const all = (effect: EffectKind | 'pure', external: string, members: string): EffectEntry[] => members.split(' ').map(member => ({ match: `${external}#${member}`, effect }))
const packages = (effect: EffectKind | 'pure', names: string): EffectEntry[] => names.split(' ').map(match => ({ match, effect }))

/** What JavaScript's runtimes, Node's modules and common packages touch. Browser globals are `user-interface` where they need a page. */
export const TYPESCRIPT_EFFECTS: readonly EffectEntry[] = [
  // The language itself only computes.
  ...all('pure', 'runtime', 'Array ArrayBuffer BigInt BigInt64Array BigUint64Array Boolean DataView Date Error AggregateError EvalError RangeError ReferenceError SyntaxError ' +
    'TypeError URIError Float32Array Float64Array Function Infinity Int8Array Int16Array Int32Array Intl Iterator JSON Map Math NaN Number Object Promise Proxy Reflect RegExp Set ' +
    'String Symbol TextDecoder TextEncoder URL URLSearchParams Uint8Array Uint8ClampedArray Uint16Array Uint32Array WeakMap WeakRef WeakSet Buffer AbortController AbortSignal ' +
    'Event EventTarget CustomEvent DOMException Blob File FormData Headers Request Response ReadableStream WritableStream TransformStream structuredClone decodeURI decodeURIComponent ' +
    'encodeURI encodeURIComponent escape unescape isFinite isNaN parseFloat parseInt undefined globalThis atob btoa eval Atomics SharedArrayBuffer FinalizationRegistry ' +
    'queueMicrotask crypto.subtle.digest module exports __dirname __filename require arguments'),
  ...all('clock', 'runtime', 'Date() Date.now performance'),
  ...all('randomness', 'runtime', 'Math.random crypto crypto.randomUUID crypto.getRandomValues'),
  ...all('threads-and-timers', 'runtime', 'setTimeout setInterval setImmediate clearTimeout clearInterval clearImmediate requestIdleCallback Worker SharedWorker MessageChannel BroadcastChannel'),
  ...all('network', 'runtime', 'fetch XMLHttpRequest WebSocket EventSource navigator.sendBeacon'),
  ...all('console', 'runtime', 'console process.stdout process.stderr process.stdin alert confirm prompt'),
  ...all('process', 'runtime', 'process'),
  ...all('environment', 'runtime', 'process.env process.argv process.cwd process.platform process.version process.versions process.arch navigator'),
  ...all('clock', 'runtime', 'process.hrtime process.uptime'),
  ...all('user-interface', 'runtime', 'window document location history screen customElements matchMedia getComputedStyle requestAnimationFrame cancelAnimationFrame addEventListener ' +
    'removeEventListener dispatchEvent HTMLElement Element Node Image Audio MutationObserver ResizeObserver IntersectionObserver DOMParser Range Selection ShadowRoot'),
  ...all('device', 'runtime', 'localStorage sessionStorage navigator.geolocation navigator.mediaDevices navigator.bluetooth navigator.usb Notification'),
  ...all('database', 'runtime', 'indexedDB IDBFactory caches'),
  // Node's modules.
  ...packages('pure', 'node:path node:path/posix node:path/win32 node:url node:util node:util/types node:events node:buffer node:querystring node:string_decoder node:assert node:assert/strict node:stream ' +
    'node:stream/promises node:zlib node:punycode node:async_hooks node:module node:v8 node:diagnostics_channel node:constants'),
  ...packages('file-system', 'node:fs node:fs/promises'),
  ...all('pure', 'node:fs', 'constants Stats Dirent'),
  ...packages('network', 'node:net node:http node:https node:http2 node:tls node:dgram node:dns node:dns/promises'),
  ...all('pure', 'node:http', 'STATUS_CODES METHODS IncomingMessage'),
  ...all('pure', 'node:net', 'isIP isIPv4 isIPv6'),
  ...packages('process', 'node:child_process node:process node:cluster node:repl node:vm'),
  ...all('environment', 'node:process', 'env argv cwd platform version versions arch'),
  ...all('console', 'node:process', 'stdout stderr stdin'),
  ...packages('console', 'node:readline node:readline/promises node:tty node:console'),
  ...packages('threads-and-timers', 'node:timers node:timers/promises node:worker_threads'),
  ...packages('environment', 'node:os'),
  ...all('pure', 'node:os', 'EOL constants'),
  ...packages('clock', 'node:perf_hooks'),
  ...packages('pure', 'node:crypto'),
  ...all('randomness', 'node:crypto', 'randomBytes randomUUID randomInt randomFill randomFillSync generateKeyPair generateKeyPairSync getRandomValues webcrypto'),
  ...packages('database', 'node:sqlite'),
  ...packages('pure', 'node:test'),
  // Common packages.
  ...packages('database', 'pg pg-promise mysql mysql2 sqlite3 better-sqlite3 mongodb mongoose redis ioredis knex typeorm sequelize @prisma/* drizzle-orm/* mikro-orm @mikro-orm/* cassandra-driver ' +
    'tedious oracledb neo4j-driver @elastic/* couchbase level lowdb nedb dexie'),
  ...packages('network', 'axios got node-fetch undici request superagent ky ws socket.io socket.io-client @grpc/* amqplib kafkajs mqtt nats stompit nodemailer @sendgrid/* mailgun.js ssh2 ftp ' +
    'basic-ftp @aws-sdk/* aws-sdk @google-cloud/* @azure/* firebase firebase-admin stripe twilio @slack/* bullmq bull'),
  ...packages('file-system', 'fs-extra graceful-fs glob globby fast-glob rimraf mkdirp chokidar del tmp'),
  ...packages('process', 'execa cross-spawn shelljs'),
  ...packages('environment', 'dotenv'),
  ...packages('randomness', 'uuid nanoid cuid ulid'),
  ...all('pure', 'uuid', 'parse stringify validate version v3 v5 NIL'),
  ...packages('console', 'chalk inquirer ora'),
  ...packages('logging', 'winston pino bunyan loglevel log4js debug'),
  ...packages('user-interface', 'react-dom jquery electron blessed ink puppeteer puppeteer-core playwright'),
  ...packages('pure', 'lodash lodash-es ramda immer immutable date-fns date-fns-tz luxon rxjs rxjs/* zod yup joi ajv valibot fp-ts effect io-ts class-validator class-transformer reflect-metadata tslib ' +
    'semver yaml js-yaml fast-xml-parser xml2js csv-parse csv-stringify marked handlebars mustache ms bignumber.js decimal.js big.js d3 d3-* minimatch picomatch inversify tsyringe typescript @babel/*'),
  ...all('clock', 'luxon', 'DateTime.now DateTime.local DateTime.utc'),
  // Frameworks that make and drive the classes that extend theirs.
  ...['react#Component', 'react#PureComponent', 'preact#Component', 'lit#LitElement', 'lit-element#LitElement', 'backbone#View', 'backbone#Model', 'vue#Vue', '@ember/*', '@stimulus/*', 'phaser#Scene', 'vscode#*']
    .map((match): EffectEntry => ({ match, effect: 'framework', when: 'extended' })),
  ...all('user-interface', 'runtime', 'HTMLElement'),
  ...packages('pure', 'react vue preact lit svelte @angular/* @nestjs/* express koa fastify hono routing-controllers')
]
