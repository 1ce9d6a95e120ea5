import { Button, Upload } from "antd";

/** Asks for files to be imported; several at once come together. */
export function ImportFiles({ busy, onFiles }: { busy: boolean; onFiles: (files: File[]) => void }) {
  return (
    <Upload
      accept=".json,.glb,.gltf,.usd,.usda,.usdc,.bvh,.csv"
      multiple
      showUploadList={false}
      beforeUpload={(file, all) => {
        if (file === all.at(-1)) onFiles(all);
        return false;
      }}
    >
      <Button loading={busy} title="Or drop files anywhere here">Import files…</Button>
    </Upload>
  );
}
