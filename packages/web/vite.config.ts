import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue(), Components({ dts: false, dirs: [], resolvers: [ElementPlusResolver({ importStyle: false })] })],
  build: { outDir: 'dist', emptyOutDir: true, chunkSizeWarningLimit: 900 },
  optimizeDeps: { include: ['element-plus/es'] },
  server: { host: '127.0.0.1', proxy: { '/api': 'http://127.0.0.1:4870' } }
})
