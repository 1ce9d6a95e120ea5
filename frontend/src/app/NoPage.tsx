import { Button, Result } from "antd";
import { Link, useLocation } from "react-router";

/** What stands at an address where nothing is. */
export function NoPage() {
  const { pathname } = useLocation();
  return (
    <Result
      title="There is no page here"
      subTitle={`${pathname} is no address of Bindu. Scenes are found on the first page.`}
      extra={<Link to="/"><Button type="primary">All scenes</Button></Link>}
    />
  );
}
